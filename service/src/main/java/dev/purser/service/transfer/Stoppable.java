package dev.purser.service.transfer;

import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.function.BooleanSupplier;

/** What is read only as long as nobody stops it. */
final class Stoppable extends FilterInputStream {
  private final BooleanSupplier stops;

  Stoppable(InputStream in, BooleanSupplier stops) {
    super(in);
    this.stops = stops;
  }

  @Override
  public int read() throws IOException {
    byte[] one = new byte[1];
    return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
  }

  @Override
  public int read(byte[] into, int from, int most) throws IOException {
    if (stops.getAsBoolean()) {
      throw new Bringing.Stopped();
    }
    return super.read(into, from, most);
  }
}
