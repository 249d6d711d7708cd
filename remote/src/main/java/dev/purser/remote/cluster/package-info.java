/** Work in a container cluster, by its open HTTP interface (batch/v1 and pods). */
package dev.purser.remote.cluster;
