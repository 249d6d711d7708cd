/** The ways by which alerts reach people and systems, each a room of its own. */
package dev.purser.service.channel;
