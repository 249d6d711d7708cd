package dev.purser.remote.place;

import java.io.IOException;
import java.io.InputStream;

/** A place from which files can be had, no more. */
public abstract class ReadOnlyPlace implements RemotePlace {
  private final String why;

  /**
   * One of them.
   *
   * @param why nothing can be changed there, as a sentence
   */
  protected ReadOnlyPlace(String why) {
    this.why = why;
  }

  @Override
  public final void write(String path, InputStream content, long size, long offset)
      throws IOException {
    throw new RefusedException(why);
  }

  @Override
  public final boolean goesOn() {
    return false;
  }

  @Override
  public final void move(String path, String target) throws IOException {
    throw new RefusedException(why);
  }

  @Override
  public final void remove(String path) throws IOException {
    throw new RefusedException(why);
  }
}
