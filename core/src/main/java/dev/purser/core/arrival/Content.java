package dev.purser.core.arrival;

/**
 * What a look into a file has found.
 *
 * @param checksum SHA-256 in hexadecimal; empty where it is too large to be read just for that
 * @param lastLine the last line that is not empty, cut at 1,000 characters; empty where nobody asks
 * @param expected the checksum that its checksum file names; empty where there is none
 * @param actual the file's own checksum of the same kind as the expected one; empty where there is
 *     none
 */
public record Content(String checksum, String lastLine, String expected, String actual) {}
