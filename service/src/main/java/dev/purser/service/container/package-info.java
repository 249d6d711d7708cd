/** Work in containers of a cluster: its objects are made, followed, and taken away. */
package dev.purser.service.container;
