/** Parcels: definitions carried from one environment to another. */
package dev.purser.service.parcel;
