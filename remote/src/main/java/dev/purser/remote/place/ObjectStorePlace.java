package dev.purser.remote.place;

import dev.purser.core.definition.Connection;
import dev.purser.remote.http.Ports;
import dev.purser.remote.http.Site;
import java.io.FileNotFoundException;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Optional;
import java.util.function.Consumer;
import software.amazon.awssdk.auth.credentials.AnonymousCredentialsProvider;
import software.amazon.awssdk.auth.credentials.AwsBasicCredentials;
import software.amazon.awssdk.auth.credentials.AwsCredentialsProvider;
import software.amazon.awssdk.auth.credentials.StaticCredentialsProvider;
import software.amazon.awssdk.core.checksums.RequestChecksumCalculation;
import software.amazon.awssdk.core.checksums.ResponseChecksumValidation;
import software.amazon.awssdk.core.exception.SdkException;
import software.amazon.awssdk.core.sync.RequestBody;
import software.amazon.awssdk.http.urlconnection.ProxyConfiguration;
import software.amazon.awssdk.http.urlconnection.UrlConnectionHttpClient;
import software.amazon.awssdk.regions.Region;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3.model.NoSuchBucketException;
import software.amazon.awssdk.services.s3.model.NoSuchKeyException;
import software.amazon.awssdk.services.s3.model.S3Object;

/** A bucket of an object store: the first part of a path is the bucket, the rest the key. */
final class ObjectStorePlace implements RemotePlace {
  private final S3Client client;

  ObjectStorePlace(Site site) throws IOException {
    Connection connection = site.connection();
    AwsCredentialsProvider who =
        connection.user().isEmpty()
            ? AnonymousCredentialsProvider.create()
            : StaticCredentialsProvider.create(
                AwsBasicCredentials.create(connection.user(), site.secret()));
    client =
        S3Client.builder()
            .endpointOverride(URI.create(connection.address()))
            .region(Region.of(connection.region()))
            .forcePathStyle(true)
            // Many stores do not know the pieces that are signed one by one.
            .serviceConfiguration(settings -> settings.chunkedEncodingEnabled(false))
            .credentialsProvider(who)
            .requestChecksumCalculation(RequestChecksumCalculation.WHEN_REQUIRED)
            .responseChecksumValidation(ResponseChecksumValidation.WHEN_REQUIRED)
            .httpClientBuilder(http(site))
            .build();
  }

  private static UrlConnectionHttpClient.Builder http(Site site) throws IOException {
    UrlConnectionHttpClient.Builder http = UrlConnectionHttpClient.builder();
    if (!site.road().isDirect()) {
      URI address = URI.create(site.connection().address());
      InetSocketAddress road = site.road().proxyTo(address.getHost(), Ports.of(address));
      URI proxy = URI.create("http://" + road.getHostString() + ":" + road.getPort());
      http.proxyConfiguration(
          ProxyConfiguration.builder()
              .endpoint(proxy)
              .useSystemPropertyValues(false)
              .useEnvironmentVariablesValues(false)
              .build());
    }
    return http;
  }

  private static String bucket(String path) {
    int slash = path.indexOf('/', 1);
    return slash < 0 ? path.substring(1) : path.substring(1, slash);
  }

  private static String key(String path) {
    int slash = path.indexOf('/', 1);
    return slash < 0 ? "" : path.substring(slash + 1);
  }

  @Override
  public void list(String directory, Consumer<RemoteFile> each) throws IOException {
    String key = key(directory);
    String prefix = key.isEmpty() ? "" : key + "/";
    asked(
        () -> {
          client
              .listObjectsV2Paginator(
                  request -> request.bucket(bucket(directory)).prefix(prefix).delimiter("/"))
              .contents()
              .forEach(one -> file(one, prefix.length()).ifPresent(each));
          return true;
        });
  }

  /** The directory's own entry, which some tools make, is no file. */
  private static Optional<RemoteFile> file(S3Object one, int prefix) {
    String name = one.key().substring(prefix);
    return name.isEmpty()
        ? Optional.empty()
        : Optional.of(
            new RemoteFile(
                name,
                one.size(),
                one.lastModified().toEpochMilli(),
                one.eTag().replace("\"", ""),
                false));
  }

  @Override
  public Optional<RemoteFile> look(String path) throws IOException {
    try {
      return asked(
          () -> {
            var head = client.headObject(request -> request.bucket(bucket(path)).key(key(path)));
            return Optional.of(
                new RemoteFile(
                    path.substring(path.lastIndexOf('/') + 1),
                    head.contentLength(),
                    head.lastModified().toEpochMilli(),
                    head.eTag().replace("\"", ""),
                    false));
          });
    } catch (FileNotFoundException e) {
      return Optional.empty();
    }
  }

  @Override
  public InputStream read(String path) throws IOException {
    return asked(() -> client.getObject(request -> request.bucket(bucket(path)).key(key(path))));
  }

  /** By a file of our own: a request is signed over its content, and may have to be sent again. */
  @Override
  public void write(String path, InputStream content, long size, long offset) throws IOException {
    Path spooled = Files.createTempFile("purser-object", ".part");
    try {
      Files.copy(content, spooled, StandardCopyOption.REPLACE_EXISTING);
      asked(
          () ->
              client.putObject(
                  request -> request.bucket(bucket(path)).key(key(path)),
                  RequestBody.fromFile(spooled)));
    } finally {
      Files.delete(spooled);
    }
  }

  /** An object is there whole, or not at all. */
  @Override
  public boolean goesOn() {
    return false;
  }

  @Override
  public void move(String path, String target) throws IOException {
    asked(
        () ->
            client.copyObject(
                request ->
                    request
                        .sourceBucket(bucket(path))
                        .sourceKey(key(path))
                        .destinationBucket(bucket(target))
                        .destinationKey(key(target))));
    remove(path);
  }

  @Override
  public void remove(String path) throws IOException {
    asked(() -> client.deleteObject(request -> request.bucket(bucket(path)).key(key(path))));
  }

  private interface Question<T> {
    T ask();
  }

  private static <T> T asked(Question<T> question) throws IOException {
    try {
      return question.ask();
    } catch (NoSuchBucketException e) {
      throw new IOException("the bucket does not exist", e);
    } catch (NoSuchKeyException e) {
      FileNotFoundException missing = new FileNotFoundException("there is no such object");
      missing.initCause(e);
      throw missing;
    } catch (SdkException e) {
      throw new IOException("the object store says: " + e.getMessage(), e);
    }
  }

  @Override
  public void close() {
    client.close();
  }
}
