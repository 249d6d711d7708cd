/** Places of files that are reached over a connection: directories over SFTP, object stores. */
package dev.purser.remote.place;
