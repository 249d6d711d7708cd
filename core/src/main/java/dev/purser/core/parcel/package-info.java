/** What is carried from one environment to another, and how names there are other than here. */
package dev.purser.core.parcel;
