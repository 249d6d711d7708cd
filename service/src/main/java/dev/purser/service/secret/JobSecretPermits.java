package dev.purser.service.secret;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.HostGroup;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Stream;
import dev.purser.core.fill.Unfillable;
import dev.purser.core.job.Job;
import dev.purser.core.job.Placement;
import dev.purser.core.problem.Problem;
import dev.purser.core.transfer.Transfer;
import dev.purser.service.board.Engine;
import dev.purser.service.definition.SiteCheck;
import dev.purser.service.work.Attempt;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;

/**
 * Secrets for commands on hosts. Whoever writes a command can do with them what they like: so a
 * secret goes to a host only where an administrator has said so, of it or of a group it is in.
 */
@Component
public class JobSecretPermits implements SiteCheck {
  private final SecretPermits permits;
  private final StoredSecrets stored;
  private final SecretUses uses;
  private final Engine engine;

  JobSecretPermits(SecretPermits permits, StoredSecrets stored, SecretUses uses, Engine engine) {
    this.permits = permits;
    this.stored = stored;
    this.uses = uses;
    this.engine = engine;
  }

  /**
   * What an attempt is given.
   *
   * @param variables with the secrets themselves
   * @param files by variable, what the file holds
   */
  public record Given(Map<String, String> variables, Map<String, String> files) {
    /** For a command without secrets. */
    public static final Given NOTHING = new Given(Map.of(), Map.of());

    /** Shows no secrets. */
    @Override
    public String toString() {
      return variables.size() + " secrets, and " + files.size() + " in files";
    }
  }

  /**
   * The secrets of an attempt's command.
   *
   * @throws Unfillable where one is not there, or may not go to this host
   */
  public Given of(Attempt attempt, String host) {
    Job job = attempt.run().run().job();
    List<String> places = places(engine.definitions(), host);
    Given given = new Given(new HashMap<>(), new HashMap<>());
    job.secrets()
        .variables()
        .forEach((name, secret) -> given.variables().put(name, read(attempt, secret, places)));
    job.secrets()
        .files()
        .forEach((name, secret) -> given.files().put(name, read(attempt, secret, places)));
    return given;
  }

  /**
   * The secrets of an attempt's container, by variable.
   *
   * @throws Unfillable where one is not there, or may not go to this cluster
   */
  public Map<String, String> of(Attempt attempt, Connection cluster) {
    Map<String, String> given = new HashMap<>();
    attempt
        .run()
        .run()
        .job()
        .secrets()
        .variables()
        .forEach(
            (name, secret) -> {
              if (!isAllowed(secret, cluster)) {
                throw new Unfillable(refusal(secret, cluster));
              }
              given.put(name, read(attempt, secret, "in cluster " + cluster.name()));
            });
    return given;
  }

  /**
   * A secret that the work of an attempt uses here, in the service: it goes nowhere.
   *
   * @param secret empty for none
   * @return the secret, or nothing where none is asked for
   * @throws Unfillable where it is not there, or may not be used by this stream
   */
  public String ofStream(Attempt attempt, String secret) {
    if (secret.isEmpty()) {
      return "";
    }
    String stream = attempt.run().run().reference().stream();
    SecretSource source = new SecretSource("stored", secret, SecretSource.stream(stream));
    if (!permits.isAllowed(source)) {
      throw new Unfillable(refusal(secret, "stream " + stream, "stream:" + stream));
    }
    return read(attempt, secret, "in stream " + stream);
  }

  private boolean isAllowed(String secret, Connection cluster) {
    return permits.isAllowed(SecretSource.of("stored", secret, cluster.secretGoesTo()));
  }

  private String read(Attempt attempt, String secret, List<String> places) {
    if (!isAllowed(secret, places)) {
      throw new Unfillable(refusal(secret, places.get(0)));
    }
    return read(attempt, secret, "on host " + places.get(0));
  }

  private String read(Attempt attempt, String secret, String where) {
    try {
      String read = stored.read(secret);
      uses.by(attempt, "secret " + secret + " " + where);
      return read;
    } catch (IOException e) {
      throw new Unfillable(e.getMessage());
    }
  }

  private boolean isAllowed(String secret, List<String> places) {
    return places.stream().anyMatch(place -> permits.isAllowed(source(secret, place)));
  }

  private static SecretSource source(String secret, String place) {
    return new SecretSource("stored", secret, SecretSource.hosts(place));
  }

  private static String refusal(String secret, String place) {
    return refusal(secret, place, "host:" + place);
  }

  private static String refusal(String secret, Connection cluster) {
    return refusal(secret, cluster.name(), cluster.address());
  }

  private static String refusal(String secret, String whom, String address) {
    return "the secret "
        + secret
        + " may not go to "
        + whom
        + ": no administrator has allowed it (purser secrets allow --stored "
        + secret
        + " --address "
        + address
        + ")";
  }

  /** A host, and the groups that it is in. */
  private static List<String> places(Definitions definitions, String host) {
    List<String> places = new ArrayList<>(List.of(host));
    for (HostGroup group : definitions.hostGroups()) {
      if (definitions.membersOf(group.name()).contains(host)) {
        places.add(group.name());
      }
    }
    return places;
  }

  /** Warnings about commands whose secrets nobody has allowed yet. */
  @Override
  public List<Problem> problems(List<Document> documents) {
    List<Problem> found = new ArrayList<>();
    for (Document document : documents) {
      if (document.kind() == Kind.STREAM) {
        Stream stream = (Stream) document.value();
        for (Job job : stream.jobs()) {
          refusals(stream.path(), job)
              .forEach(text -> found.add(document.warning("job \"" + job.name() + "\": " + text)));
        }
      }
    }
    return found;
  }

  private java.util.stream.Stream<String> refusals(String stream, Job job) {
    java.util.stream.Stream<String> names = job.secrets().names().stream();
    if (job.placement() instanceof Placement.WithFile) {
      return java.util.stream.Stream.of(); // the host is not known before
    }
    if (job.placement().isOnHosts()) {
      return names
          .filter(secret -> !isAllowed(secret, places(job)))
          .map(secret -> refusal(secret, places(job).get(0)));
    }
    if (job.work() instanceof Transfer transfer) {
      return java.util.stream.Stream.of(
              transfer.sealing().signWith(), transfer.sealing().decryptWith())
          .filter(secret -> !secret.isEmpty())
          .filter(
              secret ->
                  !permits.isAllowed(
                      new SecretSource("stored", secret, SecretSource.stream(stream))))
          .map(secret -> refusal(secret, "stream " + stream, "stream:" + stream));
    }
    Optional<Connection> cluster =
        job.work()
            .connection(service -> Optional.empty())
            .flatMap(engine.definitions()::connection);
    return names
        .filter(secret -> cluster.isPresent() && !isAllowed(secret, cluster.get()))
        .map(secret -> refusal(secret, cluster.orElseThrow()));
  }

  private List<String> places(Job job) {
    return job.placement() instanceof Placement.OnHost on
        ? places(engine.definitions(), on.host())
        : List.of(job.placement().ofGroup().orElseThrow());
  }
}
