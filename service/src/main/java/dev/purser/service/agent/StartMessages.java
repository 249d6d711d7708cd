package dev.purser.service.agent;

import dev.purser.core.fill.Filling;
import dev.purser.core.fill.Unfillable;
import dev.purser.core.job.Command;
import dev.purser.core.job.OnlyIf;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import dev.purser.service.Settings;
import dev.purser.service.secret.JobSecretPermits;
import dev.purser.service.work.Attempt;
import dev.purser.wire.agent.ToAgent;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** Tells an agent all that it must know to start an attempt. */
@Component
class StartMessages {
  private final Settings settings;
  private final JobSecretPermits secrets;
  private final PrivateLinks links;

  StartMessages(Settings settings, JobSecretPermits secrets, PrivateLinks links) {
    this.settings = settings;
    this.secrets = secrets;
    this.links = links;
  }

  /**
   * The start of a run's current attempt.
   *
   * @param filling fills in its texts
   * @param epoch of this service
   * @throws Unfillable where its command cannot be filled in, or a secret of it cannot be had
   */
  ToAgent.Start start(Filling filling, RunSpec run, RunStatus status, long epoch) {
    Command command = (Command) run.run().job().work();
    Optional<String> check = status.startNow() ? Optional.empty() : check(run);
    String line = filling.shellLine(command.line());
    String checkLine = check.map(filling::shellLine).orElse("");
    JobSecretPermits.Given given = secrets(new Attempt(run, status));
    Map<String, String> environment = filling.environment();
    environment.putAll(given.variables());
    return new ToAgent.Start(
        epoch,
        run.id(),
        status.attempts(),
        line,
        checkLine,
        run.run().job().directory(),
        run.run().job().user(),
        environment,
        given.files(),
        settings.keepOutput());
  }

  private JobSecretPermits.Given secrets(Attempt attempt) {
    if (attempt.run().run().job().secrets().names().isEmpty()) {
      return JobSecretPermits.Given.NOTHING;
    }
    String host = attempt.status().where().host().orElse("");
    if (!links.has(host)) {
      throw new Unfillable(
          "the agent of " + host + " is connected without encryption: no secret is sent to it");
    }
    return secrets.of(attempt, host);
  }

  private static Optional<String> check(RunSpec run) {
    return run.run()
        .job()
        .onlyIf()
        .filter(OnlyIf.Command.class::isInstance)
        .map(check -> ((OnlyIf.Command) check).line());
  }
}
