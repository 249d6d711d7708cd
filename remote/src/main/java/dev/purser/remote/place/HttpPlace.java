package dev.purser.remote.place;

import dev.purser.remote.http.Site;
import dev.purser.remote.http.Web;
import java.io.IOException;
import java.io.InputStream;
import java.net.URLEncoder;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.DateTimeException;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;

/** Files that can be had by HTTP, each by its name: they are neither listed nor written. */
final class HttpPlace extends ReadOnlyPlace {
  private static final int NOT_FOUND = 404;
  private static final int GONE = 410;

  private final Site site;
  private final Web web;

  /** Those whose length the other side does not say: had once, and kept here meanwhile. */
  private final Map<String, Path> had = new HashMap<>();

  HttpPlace(Site site, Web web) {
    super("over http files can be had, not put, and a source can only be kept");
    this.site = site;
    this.web = web;
  }

  @Override
  public boolean lists() {
    return false;
  }

  @Override
  public void list(String directory, Consumer<RemoteFile> each) throws IOException {
    throw new RefusedException("nobody lists files over http; name one");
  }

  @Override
  public Optional<RemoteFile> look(String path) throws IOException {
    HttpResponse<InputStream> head = web.open(site, "HEAD", encoded(path));
    head.body().close();
    int code = head.statusCode();
    if (code == NOT_FOUND || code == GONE) {
      return Optional.empty();
    }
    boolean answersHead = code != 405 && code != 501;
    if (answersHead) {
      good(path, code);
    }
    long size = answersHead ? head.headers().firstValueAsLong("Content-Length").orElse(-1) : -1;
    if (size < 0) {
      Optional<Path> whole = fetched(path);
      if (whole.isEmpty()) {
        return Optional.empty();
      }
      size = Files.size(whole.get());
    }
    String name = path.substring(path.lastIndexOf('/') + 1);
    String tag = head.headers().firstValue("ETag").orElse("");
    return Optional.of(new RemoteFile(name, size, modified(head), tag, false));
  }

  private static long modified(HttpResponse<?> head) {
    try {
      return head.headers()
          .firstValue("Last-Modified")
          .map(text -> ZonedDateTime.parse(text, DateTimeFormatter.RFC_1123_DATE_TIME))
          .map(then -> then.toInstant().toEpochMilli())
          .orElse(0L);
    } catch (DateTimeException e) {
      return 0;
    }
  }

  private Optional<Path> fetched(String path) throws IOException {
    Path known = had.get(path);
    if (known != null) {
      return Optional.of(known);
    }
    HttpResponse<InputStream> answer = web.open(site, "GET", encoded(path));
    try (InputStream in = answer.body()) {
      if (answer.statusCode() == NOT_FOUND || answer.statusCode() == GONE) {
        return Optional.empty();
      }
      good(path, answer.statusCode());
      Path file = Files.createTempFile("purser-had", "");
      Files.copy(in, file, StandardCopyOption.REPLACE_EXISTING);
      had.put(path, file);
      return Optional.of(file);
    }
  }

  @Override
  public InputStream read(String path) throws IOException {
    Path known = had.get(path);
    if (known != null) {
      return Files.newInputStream(known);
    }
    HttpResponse<InputStream> answer = web.open(site, "GET", encoded(path));
    good(path, answer.statusCode());
    return answer.body();
  }

  private void good(String path, int code) throws IOException {
    if (code / 100 == 5 || code == 429) {
      throw new IOException(site.connection().name() + " answered " + code + " to " + path);
    }
    if (code / 100 != 2) {
      throw new RefusedException(site.connection().name() + " answered " + code + " to " + path);
    }
  }

  /** Each part of it is encoded: no value of it becomes a question or another path. */
  private static String encoded(String path) {
    return Arrays.stream(path.split("/", -1))
        .map(part -> URLEncoder.encode(part, StandardCharsets.UTF_8).replace("+", "%20"))
        .collect(Collectors.joining("/"));
  }

  @Override
  public void close() {
    for (Path file : had.values()) {
      try {
        Files.deleteIfExists(file);
      } catch (IOException e) {
        file.toFile().deleteOnExit();
      }
    }
  }
}
