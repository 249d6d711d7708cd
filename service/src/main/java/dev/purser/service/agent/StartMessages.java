package dev.purser.service.agent;

import dev.purser.core.fill.Filling;
import dev.purser.core.fill.Unfillable;
import dev.purser.core.job.Command;
import dev.purser.core.job.OnlyIf;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import dev.purser.service.Settings;
import dev.purser.wire.agent.ToAgent;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** Tells an agent all that it must know to start an attempt. */
@Component
class StartMessages {
  private final Settings settings;

  StartMessages(Settings settings) {
    this.settings = settings;
  }

  /**
   * The start of a run's current attempt.
   *
   * @param filling fills in its texts
   * @param epoch of this service
   * @throws Unfillable where its command cannot be filled in
   */
  ToAgent.Start start(Filling filling, RunSpec run, RunStatus status, long epoch) {
    Command command = (Command) run.run().job().work();
    Optional<String> check = status.startNow() ? Optional.empty() : check(run);
    return new ToAgent.Start(
        epoch,
        run.id(),
        status.attempts(),
        filling.shellLine(command.line()),
        check.map(filling::shellLine).orElse(""),
        run.run().job().directory(),
        run.run().job().user(),
        filling.environment(),
        settings.keepOutput());
  }

  private static Optional<String> check(RunSpec run) {
    return run.run()
        .job()
        .onlyIf()
        .filter(OnlyIf.Command.class::isInstance)
        .map(check -> ((OnlyIf.Command) check).line());
  }
}
