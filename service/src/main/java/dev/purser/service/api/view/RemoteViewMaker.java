package dev.purser.service.api.view;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.job.Job;
import dev.purser.core.pursuit.Pursuit;
import dev.purser.core.remote.Call;
import dev.purser.core.remote.Operation;
import dev.purser.core.remote.RemoteService;
import dev.purser.core.remote.Request;
import dev.purser.service.call.CallDesk;
import dev.purser.service.secret.SecretSource;
import dev.purser.wire.api.RemoteViews;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Connections, remote services and attempts at them as the API shows them. */
public final class RemoteViewMaker {
  private RemoteViewMaker() {}

  /**
   * A connection.
   *
   * @param refused why it may not use its secret; empty where it may
   */
  public static RemoteViews.ConnectionView view(
      Connection one, Optional<String> refused, Definitions all) {
    return new RemoteViews.ConnectionView(
        one.name(),
        one.title(),
        one.kind().word(),
        one.address(),
        one.through(),
        one.signIn().way().word(),
        one.user(),
        SecretSource.of(one).map(SecretSource::inWords).orElse(""),
        refused.orElse(""),
        one.atMost(),
        one.bearsOutage().toString(),
        usersOf(one.name(), all));
  }

  private static List<String> usersOf(String name, Definitions all) {
    return all.documents().stream()
        .filter(
            document ->
                document.mentions().stream()
                    .anyMatch(
                        mention ->
                            mention.what() == Document.What.CONNECTION
                                && mention.name().equals(name)))
        .map(document -> document.kind().title() + " " + document.name())
        .toList();
  }

  /** An attempt at a remote service. */
  public static RemoteViews.CallView view(CallDesk.Standing one) {
    Pursuit.Remote remote = one.pursuit().remote();
    return new RemoteViews.CallView(
        one.attempt(),
        one.service(),
        one.operation(),
        one.phase(),
        remote.id(),
        remote.link(),
        remote.id().isEmpty() ? "" : remote.word(),
        Operation.far(remote.progress()),
        remote.error(),
        one.begun(),
        one.pursuit().awaySince().orElse(null),
        one.sentence());
  }

  /** A remote service, with the jobs that call it. */
  public static RemoteViews.ServiceView view(RemoteService service, Definitions all) {
    return new RemoteViews.ServiceView(
        service.name(),
        service.title(),
        service.about(),
        service.connection(),
        service.operations().values().stream()
            .map(operation -> view(operation, jobsOf(service, operation, all)))
            .toList());
  }

  private static RemoteViews.OperationView view(Operation operation, List<String> jobs) {
    Set<String> asks = new LinkedHashSet<>();
    operation.requests(ANY).stream().map(Request::parameters).forEach(asks::addAll);
    List<String> can = new ArrayList<>();
    operation.stop().ifPresent(any -> can.add("stop"));
    operation.log().ifPresent(any -> can.add("log"));
    operation.recent().ifPresent(any -> can.add("recent"));
    return new RemoteViews.OperationView(
        operation.name(),
        operation.title(),
        asks.stream().filter(name -> !name.equals("date")).toList(),
        can,
        knownAgain(operation),
        jobs);
  }

  private static String knownAgain(Operation operation) {
    if (!operation.start().keyHeader().isEmpty()) {
      return "by the header " + operation.start().keyHeader();
    }
    boolean listed = operation.recent().filter(recent -> !recent.key().isEmpty()).isPresent();
    return listed ? "by the key in its list" : "by a person";
  }

  /** A call that starts, for what an operation may ask for at most. */
  private static final Call ANY =
      new Call(
          "",
          "",
          false,
          "",
          Duration.ZERO,
          Duration.ZERO,
          Optional.empty(),
          Call.Already.START,
          Duration.ZERO,
          Call.Until.ENDED);

  private static List<String> jobsOf(RemoteService service, Operation operation, Definitions all) {
    List<String> jobs = new ArrayList<>();
    all.streams()
        .forEach(
            stream -> {
              for (Job job : stream.jobs()) {
                boolean calls =
                    job.work() instanceof Call call
                        && call.service().equals(service.name())
                        && call.operation().equals(operation.name());
                if (calls) {
                  jobs.add(stream.path() + "/" + job.name());
                }
              }
            });
    return jobs;
  }
}
