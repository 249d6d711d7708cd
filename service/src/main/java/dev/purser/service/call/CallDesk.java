package dev.purser.service.call;

import dev.purser.core.definition.Definitions;
import dev.purser.core.job.Job;
import dev.purser.core.remote.Call;
import dev.purser.core.remote.Operation;
import dev.purser.core.remote.Pursuit;
import dev.purser.core.remote.RemoteService;
import dev.purser.core.remote.Request;
import dev.purser.service.board.Engine;
import dev.purser.wire.api.RemoteViews;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Remote services, and attempts at them, as people see them. */
@Component
public class CallDesk {
  private final RemoteCalls records;
  private final Engine engine;

  CallDesk(RemoteCalls records, Engine engine) {
    this.records = records;
    this.engine = engine;
  }

  /** The attempts of a run at remote services, the first one first. */
  public List<RemoteViews.CallView> of(long run) {
    return records.of(run).stream().map(CallDesk::view).toList();
  }

  private static RemoteViews.CallView view(RemoteCallRow row) {
    Pursuit pursuit = RemoteCalls.pursuit(row);
    Pursuit.Remote remote = pursuit.remote();
    return new RemoteViews.CallView(
        row.attempt,
        row.service,
        row.operation,
        row.phase,
        remote.id(),
        remote.link(),
        remote.id().isEmpty() ? "" : remote.word(),
        Operation.far(remote.progress()),
        remote.error(),
        row.begun,
        pursuit.awaySince().orElse(null),
        pursuit
            .ending()
            .map(ending -> "It " + ending.inWords() + ".")
            .orElseGet(() -> sentence(CallWords.stands(pursuit, row.service))));
  }

  private static String sentence(String text) {
    return text.substring(0, 1).toUpperCase(java.util.Locale.ROOT) + text.substring(1) + ".";
  }

  /** All remote services, with the jobs that call them. */
  public List<RemoteViews.ServiceView> services() {
    Definitions all = engine.definitions();
    return all.remoteServices().stream().map(service -> view(service, all)).toList();
  }

  private static RemoteViews.ServiceView view(RemoteService service, Definitions all) {
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
