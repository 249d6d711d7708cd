package dev.purser.remote.cluster;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.SignInWay;
import dev.purser.remote.http.Gate;
import dev.purser.remote.http.Ports;
import dev.purser.remote.http.Site;
import io.fabric8.kubernetes.api.model.ContainerBuilder;
import io.fabric8.kubernetes.api.model.DeletionPropagation;
import io.fabric8.kubernetes.api.model.EnvVar;
import io.fabric8.kubernetes.api.model.EnvVarBuilder;
import io.fabric8.kubernetes.api.model.Event;
import io.fabric8.kubernetes.api.model.Pod;
import io.fabric8.kubernetes.api.model.Quantity;
import io.fabric8.kubernetes.api.model.ResourceRequirements;
import io.fabric8.kubernetes.api.model.ResourceRequirementsBuilder;
import io.fabric8.kubernetes.api.model.SecretBuilder;
import io.fabric8.kubernetes.api.model.batch.v1.Job;
import io.fabric8.kubernetes.api.model.batch.v1.JobBuilder;
import io.fabric8.kubernetes.client.Config;
import io.fabric8.kubernetes.client.ConfigBuilder;
import io.fabric8.kubernetes.client.KubernetesClient;
import io.fabric8.kubernetes.client.KubernetesClientBuilder;
import io.fabric8.kubernetes.client.KubernetesClientException;
import io.fabric8.kubernetes.client.dsl.ScalableResource;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.Reader;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Supplier;

/** A container cluster, spoken to through its open HTTP interface. */
public final class Cluster implements AutoCloseable {
  private static final String KEY = "purser/key";
  private static final String RUN = "purser/run";
  private static final String WORK = "work";
  private static final int MILLIS = 10_000;
  private static final int LONGEST_LINE = 64 * 1024;
  private static final Map<String, String> LABELS =
      Map.of("app.kubernetes.io/managed-by", "purser");

  private final String name;
  private final Site site;
  private final KubernetesClient client;

  private Cluster(Site site, KubernetesClient client) {
    this.name = site.connection().name();
    this.site = site;
    this.client = client;
  }

  /**
   * Opens a connection; nothing is sent yet.
   *
   * @throws IOException where this site may not call its address
   */
  public static Cluster open(Site site, Gate gate) throws IOException {
    Connection connection = site.connection();
    URI address = URI.create(connection.address());
    if (site.road().isDirect()) {
      gate.check(address);
    }
    ConfigBuilder config =
        new ConfigBuilder(Config.empty())
            .withMasterUrl(connection.address())
            .withConnectionTimeout(MILLIS)
            .withRequestTimeout(MILLIS)
            .withRequestRetryBackoffLimit(0)
            .withWatchReconnectLimit(0);
    if (connection.signIn().way() == SignInWay.BEARER) {
      config.withOauthToken(site.secret());
    }
    if (connection.signIn().way() == SignInWay.CERTIFICATE) {
      config.withClientCertFile(connection.signIn().certificate());
      config.withClientKeyData(
          Base64.getEncoder().encodeToString(site.secret().getBytes(StandardCharsets.UTF_8)));
    }
    if (!connection.trusts().isEmpty()) {
      config.withCaCertFile(connection.trusts());
    }
    String proxy = connection.proxy();
    if (!site.road().isDirect()) {
      InetSocketAddress road = site.road().proxyTo(address.getHost(), Ports.of(address));
      proxy = road.getHostString() + ":" + road.getPort();
    }
    if (!proxy.isEmpty()) {
      config.withHttpProxy("http://" + proxy).withHttpsProxy("http://" + proxy);
    }
    return new Cluster(site, new KubernetesClientBuilder().withConfig(config.build()).build());
  }

  @Override
  public void close() {
    client.close();
  }

  /** What the cluster is, as it says; it signs in for that. */
  public String version() throws ClusterTrouble {
    return asked(() -> client.getKubernetesVersion().getGitVersion());
  }

  // ---- making it

  /**
   * Makes the objects of a piece of work. Made again, it is there once: its name is its own.
   *
   * @throws ClusterTrouble where it was not made; of {@code AWAY} nobody knows, and it may be asked
   *     for again
   */
  public void make(Piece piece) throws ClusterTrouble {
    if (!piece.secrets().isEmpty()) {
      orThere(
          () -> client.secrets().inNamespace(piece.namespace()).resource(secret(piece)).create());
    }
    orThere(
        () ->
            client
                .batch()
                .v1()
                .jobs()
                .inNamespace(piece.namespace())
                .resource(job(piece))
                .create());
  }

  private void orThere(Supplier<?> make) throws ClusterTrouble {
    asked(
        () -> {
          try {
            return make.get();
          } catch (KubernetesClientException e) {
            if (e.getCode() == 409) {
              return null; // whose it is, the next look shows
            }
            throw e;
          }
        });
  }

  private static io.fabric8.kubernetes.api.model.Secret secret(Piece piece) {
    return new SecretBuilder()
        .withNewMetadata()
        .withName(piece.name())
        .withLabels(LABELS)
        .addToAnnotations(KEY, piece.key())
        .endMetadata()
        .withStringData(piece.secrets())
        .build();
  }

  private static Job job(Piece piece) {
    ContainerBuilder container =
        new ContainerBuilder()
            .withName(WORK)
            .withImage(piece.image())
            .withEnv(environment(piece))
            .withResources(resources(piece));
    if (!piece.command().isEmpty()) {
      container.withCommand(piece.command().stream().map(Cluster::plain).toList());
    }
    return new JobBuilder()
        .withNewMetadata()
        .withName(piece.name())
        .withLabels(LABELS)
        .addToAnnotations(KEY, piece.key())
        .addToAnnotations(RUN, piece.about())
        .endMetadata()
        .withNewSpec()
        .withBackoffLimit(0)
        .withCompletions(1)
        .withParallelism(1)
        .withNewTemplate()
        .withNewMetadata()
        .withLabels(LABELS)
        .addToAnnotations(RUN, piece.about())
        .endMetadata()
        .withNewSpec()
        .withRestartPolicy("Never")
        .withAutomountServiceAccountToken(false)
        .withTerminationGracePeriodSeconds(piece.graceSeconds())
        .withContainers(container.build())
        .endSpec()
        .endTemplate()
        .endSpec()
        .build();
  }

  private static List<EnvVar> environment(Piece piece) {
    List<EnvVar> all = new ArrayList<>();
    new TreeMap<>(piece.environment())
        .forEach(
            (variable, value) -> {
              all.add(new EnvVarBuilder().withName(variable).withValue(plain(value)).build());
            });
    new TreeMap<>(piece.secrets())
        .forEach(
            (variable, value) ->
                all.add(
                    new EnvVarBuilder()
                        .withName(variable)
                        .withNewValueFrom()
                        .withNewSecretKeyRef(variable, piece.name(), false)
                        .endValueFrom()
                        .build()));
    return all;
  }

  /** The cluster fills in $(X), and writes $$ for one $: every value means itself. */
  private static String plain(String value) {
    return value.replace("$", "$$");
  }

  private static ResourceRequirements resources(Piece piece) {
    Map<String, Quantity> given = new HashMap<>();
    if (!piece.cpu().isEmpty()) {
      given.put("cpu", new Quantity(piece.cpu()));
    }
    if (!piece.memory().isEmpty()) {
      given.put("memory", new Quantity(piece.memory()));
    }
    return new ResourceRequirementsBuilder().withRequests(given).withLimits(given).build();
  }

  // ---- looking

  /** How it stands. */
  public Standing look(Piece piece) throws ClusterTrouble {
    Job job = asked(() -> named(piece).get());
    if (job == null) {
      return new Standing.Gone();
    }
    Map<String, String> notes = job.getMetadata().getAnnotations();
    if (notes == null || !piece.key().equals(notes.get(KEY))) {
      return new Standing.NotOurs();
    }
    return pods(piece).stream()
        .max(Comparator.comparing(pod -> String.valueOf(pod.getMetadata().getCreationTimestamp())))
        .map(Pods::standing)
        .orElseGet(() -> withoutPod(piece, job));
  }

  private ScalableResource<Job> named(Piece piece) {
    return client.batch().v1().jobs().inNamespace(piece.namespace()).withName(piece.name());
  }

  private List<Pod> pods(Piece piece) throws ClusterTrouble {
    return asked(
        () ->
            client
                .pods()
                .inNamespace(piece.namespace())
                .withLabel("job-name", piece.name())
                .list()
                .getItems());
  }

  /** Its pod is not there yet, or not any more. */
  private Standing withoutPod(Piece piece, Job job) {
    boolean over =
        job.getStatus() != null
            && job.getStatus().getConditions() != null
            && job.getStatus().getConditions().stream()
                .anyMatch(one -> one.getType().equals("Failed") && one.getStatus().equals("True"));
    if (over) {
      return new Standing.Lost("", "its pod was taken away");
    }
    try {
      return new Standing.Waiting(lastWarning(piece), false);
    } catch (ClusterTrouble e) {
      return new Standing.Waiting("", false); // events are good to know, no more
    }
  }

  private String lastWarning(Piece piece) throws ClusterTrouble {
    List<Event> events =
        asked(
            () ->
                client
                    .v1()
                    .events()
                    .inNamespace(piece.namespace())
                    .withField("involvedObject.name", piece.name())
                    .list()
                    .getItems());
    return events.stream()
        .filter(event -> "Warning".equals(event.getType()))
        .max(Comparator.comparing(event -> String.valueOf(event.getLastTimestamp())))
        .map(event -> shortly(event.getMessage()))
        .orElse("");
  }

  // ---- its log

  /**
   * Takes lines of a log.
   *
   * <p>A line is given with the time that the cluster wrote before it.
   */
  public interface Lines {
    /** Takes one, without its end; gives false where no more are wanted now. */
    boolean take(String time, String line);
  }

  /**
   * Reads the log of a pod.
   *
   * @param since RFC 3339, the second from which it is read; empty for all of it
   */
  public void log(String namespace, String pod, String since, Lines lines) throws ClusterTrouble {
    asked(
        () -> {
          var resource = client.pods().inNamespace(namespace).withName(pod).inContainer(WORK);
          try (Reader log =
                  since.isEmpty()
                      ? resource.usingTimestamps().getLogReader()
                      : resource.usingTimestamps().sinceTime(since).getLogReader();
              BufferedReader text = new BufferedReader(log)) {
            read(text, lines);
            return null;
          } catch (IOException e) {
            throw new KubernetesClientException("its log broke off: " + e.getMessage(), e);
          }
        });
  }

  private static void read(BufferedReader text, Lines lines) throws IOException {
    StringBuilder line = new StringBuilder();
    for (int next = text.read(); next >= 0; next = text.read()) {
      if (next != '\n') {
        if (line.length() < LONGEST_LINE) {
          line.append((char) next);
        }
      } else {
        if (!take(line, lines)) {
          return;
        }
        line.setLength(0);
      }
    }
    if (!line.isEmpty()) {
      take(line, lines);
    }
  }

  private static boolean take(StringBuilder line, Lines lines) {
    int blank = line.indexOf(" ");
    return blank < 0
        ? lines.take(line.toString(), "")
        : lines.take(line.substring(0, blank), line.substring(blank + 1));
  }

  // ---- taking it away

  /**
   * Asks it to stop, and to be forced after its grace time. It is there until its pod has ended.
   */
  public void stop(Piece piece) throws ClusterTrouble {
    delete(piece, DeletionPropagation.FOREGROUND);
  }

  /** Forces it to end now. */
  public void force(Piece piece) throws ClusterTrouble {
    for (Pod pod : pods(piece)) {
      asked(() -> client.resource(pod).withGracePeriod(0).delete());
    }
  }

  /** Takes away all that was made. What is not there is no trouble. */
  public void remove(Piece piece) throws ClusterTrouble {
    delete(piece, DeletionPropagation.BACKGROUND);
    asked(() -> client.secrets().inNamespace(piece.namespace()).withName(piece.name()).delete());
  }

  private void delete(Piece piece, DeletionPropagation how) throws ClusterTrouble {
    if (!(look(piece) instanceof Standing.NotOurs)) {
      asked(() -> named(piece).withPropagationPolicy(how).delete());
    }
  }

  // ---- trouble

  private <T> T asked(Supplier<T> question) throws ClusterTrouble {
    try {
      return question.get();
    } catch (KubernetesClientException e) {
      throw trouble(e);
    }
  }

  private ClusterTrouble trouble(KubernetesClientException e) {
    String said = e.getStatus() == null ? e.getMessage() : e.getStatus().getMessage();
    String text = shortly(said);
    int code = e.getCode();
    if (code <= 0) { // there was no answer
      return new ClusterTrouble(
          ClusterTrouble.Kind.AWAY, name + " cannot be reached: " + cause(e), e);
    }
    if (code == 403 && text.toLowerCase(Locale.ROOT).contains("exceeded quota")) {
      return new ClusterTrouble(ClusterTrouble.Kind.NO_ROOM, text, e);
    }
    boolean later = code == 429 || code / 100 == 5;
    return new ClusterTrouble(
        later ? ClusterTrouble.Kind.AWAY : ClusterTrouble.Kind.REFUSED,
        name + " answered " + code + ": " + text,
        e);
  }

  private String cause(Throwable e) {
    Throwable last = e;
    while (last.getCause() != null) {
      last = last.getCause();
    }
    return shortly(last.getMessage() == null ? last.getClass().getSimpleName() : last.getMessage());
  }

  private String shortly(String text) {
    String plain = site.without(String.valueOf(text).replaceAll("\\s+", " ").strip());
    return plain.length() > 300 ? plain.substring(0, 300) + "…" : plain;
  }
}
