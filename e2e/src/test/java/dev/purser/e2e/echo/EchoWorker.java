package dev.purser.e2e.echo;

import dev.purser.core.fill.Unfillable;
import dev.purser.core.job.Where;
import dev.purser.core.job.Work;
import dev.purser.core.run.Ending;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.Fillings;
import dev.purser.service.work.Reports;
import dev.purser.service.work.Worker;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import org.springframework.stereotype.Component;

/**
 * Says what is to be said, with a file for each attempt as the far place that remembers what was
 * begun: so a restart neither forgets an attempt nor begins it twice.
 */
@Component
final class EchoWorker implements Worker {
  private final Path far = Path.of(System.getenv("ECHO_PLACE"));
  private final Fillings fillings;
  private final Reports reports;
  private final Map<String, ScheduledFuture<?>> going = new ConcurrentHashMap<>();
  private final ScheduledExecutorService clock =
      Executors.newSingleThreadScheduledExecutor(
          work -> {
            Thread thread = new Thread(work, "echo");
            thread.setDaemon(true);
            return thread;
          });

  EchoWorker(Fillings fillings, Reports reports) {
    this.fillings = fillings;
    this.reports = reports;
  }

  @Override
  public boolean takes(Work work, Where where) {
    return work instanceof Echo && where instanceof Where.InService;
  }

  @Override
  public void start(Attempt attempt) {
    clock.execute(() -> begin(attempt));
  }

  @Override
  public void takeUp(Attempt attempt) {
    clock.execute(() -> begin(attempt));
  }

  private void begin(Attempt attempt) {
    Echo echo = (Echo) attempt.run().run().job().work();
    Path memory = far.resolve(attempt.id() + "." + attempt.number());
    try {
      if (!Files.exists(memory)) {
        long end = System.currentTimeMillis() + echo.takes().toMillis();
        String text = fillings.of(attempt, filling -> filling.text(echo.text()));
        Files.writeString(
            far.resolve("begun"),
            attempt.run().run().reference() + "\n",
            StandardOpenOption.CREATE,
            StandardOpenOption.APPEND);
        Files.writeString(memory, String.valueOf(end));
        reports.began(attempt);
        reports.output(attempt, text + "\n");
      }
      long end = Long.parseLong(Files.readString(memory));
      long wait = Math.max(0, end - System.currentTimeMillis());
      going.put(
          memory.toString(),
          clock.schedule(() -> end(attempt, echo.code()), wait, TimeUnit.MILLISECONDS));
    } catch (Unfillable e) {
      reports.ended(attempt, new Ending(Ending.Kind.NO_VALUE, -1, e.getMessage()), Map.of());
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private void end(Attempt attempt, int code) {
    reports.output(attempt, "that was " + attempt.number() + "\n");
    reports.ended(attempt, Ending.exited(code), Map.of("said", String.valueOf(attempt.number())));
  }

  @Override
  public void stop(Attempt attempt, Duration grace) {
    clock.execute(
        () -> {
          ScheduledFuture<?> one =
              going.remove(far.resolve(attempt.id() + "." + attempt.number()).toString());
          if (one != null && one.cancel(false)) {
            reports.ended(attempt, Ending.exited(143), Map.of());
          }
        });
  }

  @Override
  public void letGo() {
    going.values().forEach(one -> one.cancel(false));
    going.clear();
  }
}
