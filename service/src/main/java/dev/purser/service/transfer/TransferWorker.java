package dev.purser.service.transfer;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Definitions;
import dev.purser.core.fill.Unfillable;
import dev.purser.core.job.Where;
import dev.purser.core.job.Work;
import dev.purser.core.pattern.FilePattern;
import dev.purser.core.phrase.PhraseException;
import dev.purser.core.run.Ending;
import dev.purser.core.transfer.Sealing;
import dev.purser.core.transfer.Transfer;
import dev.purser.remote.place.RefusedException;
import dev.purser.remote.place.RemotePlace;
import dev.purser.remote.place.RemotePlace.RemoteFile;
import dev.purser.service.board.Engine;
import dev.purser.service.call.Sites;
import dev.purser.service.road.Roads;
import dev.purser.service.secret.JobSecretPermits;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.BegunAttempts;
import dev.purser.service.work.BlockingWorker;
import dev.purser.service.work.Fillings;
import dev.purser.service.work.Reports;
import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;

/** Brings files from one place to another. */
@Component
public class TransferWorker extends BlockingWorker {
  private static final int AT_ONCE = 8;
  private static final int MOST_FILES = 100_000;
  private static final long TOLD_EVERY_MILLIS = 5_000;

  private final TransferFiles files;
  private final Fillings fillings;
  private final Reports reports;
  private final Engine engine;
  private final Sites sites;
  private final Roads roads;
  private final JobSecretPermits secrets;
  private final Clock clock;

  TransferWorker(
      TransferFiles files,
      BegunAttempts records,
      Fillings fillings,
      Reports reports,
      Engine engine,
      Sites sites,
      Roads roads,
      JobSecretPermits secrets,
      Clock clock) {
    super("transfers", AT_ONCE, records, reports, clock);
    this.files = files;
    this.fillings = fillings;
    this.reports = reports;
    this.engine = engine;
    this.sites = sites;
    this.roads = roads;
    this.secrets = secrets;
    this.clock = clock;
  }

  @Override
  public boolean takes(Work work, Where where) {
    return work instanceof Transfer && where instanceof Where.InService;
  }

  /** The paths of a transfer with everything filled in. */
  private record Paths(String source, FilePattern pattern, String target, String moveTo) {}

  @Override
  protected void carryOut(Going one) {
    Attempt attempt = one.attempt();
    if (one.isStopped()) {
      over(one, new Ending(Ending.Kind.EXITED, 143, "stopped"), Map.of());
      return;
    }
    Transfer transfer = (Transfer) attempt.run().run().job().work();
    Paths paths;
    try {
      paths = paths(attempt, transfer);
    } catch (Unfillable | PhraseException e) {
      over(one, new Ending(Ending.Kind.NO_VALUE, -1, e.getMessage()), Map.of());
      return;
    }
    Definitions all = engine.definitions();
    try (RemotePlace from = place(all, transfer.from(), attempt);
        RemotePlace to = place(all, transfer.to(), attempt)) {
      reports.began(attempt);
      bring(one, transfer, paths, from, to);
    } catch (Bringing.Stopped e) {
      if (one.isStopped()) {
        over(one, new Ending(Ending.Kind.EXITED, 143, "stopped"), Map.of());
      } else {
        again(one); // it was let go, and may be taken up here
      }
    } catch (Unfillable e) {
      over(one, new Ending(Ending.Kind.NO_VALUE, -1, e.getMessage()), Map.of());
    } catch (Bringing.Refused e) {
      over(one, new Ending(Ending.Kind.EXITED, Transfer.FAILED, e.getMessage()), Map.of());
    } catch (IOException e) {
      failed(one, transfer, e, all);
    }
  }

  private RemotePlace place(Definitions all, String end, Attempt attempt) throws IOException {
    Optional<String> host = Transfer.host(end);
    return host.isPresent()
        ? new HostPlace(roads.through(host.get()))
        : RemotePlace.open(sites.use(all, end, attempt), sites.web());
  }

  /** What a server has refused stays refused; what broke off is gone on with. */
  private void failed(Going one, Transfer transfer, IOException e, Definitions all) {
    if (one.isLetGo()) {
      return;
    }
    String why = String.valueOf(e.getMessage());
    boolean refused = e instanceof RefusedException || why.contains("allowed");
    if (refused) {
      over(one, new Ending(Ending.Kind.EXITED, Transfer.FAILED, why), Map.of());
    } else {
      away(one, why, bears(transfer, all));
    }
  }

  private static Duration bears(Transfer transfer, Definitions all) {
    return Stream.of(transfer.from(), transfer.to())
        .flatMap(name -> all.connection(name).stream())
        .map(Connection::bearsOutage)
        .min(Comparator.naturalOrder())
        .orElse(Connection.USUAL_OUTAGE);
  }

  private Paths paths(Attempt attempt, Transfer transfer) {
    return fillings.of(
        attempt,
        filling -> {
          String path = sound(filling.text(transfer.path()));
          int slash = path.lastIndexOf('/');
          return new Paths(
              path.substring(0, slash),
              FilePattern.of(path.substring(slash + 1), true),
              sound(filling.text(transfer.directory())).replaceAll("/+$", ""),
              sound(filling.text(transfer.moveTo())).replaceAll("/+$", ""));
        });
  }

  /** No value climbs out of the directory that the author wrote. */
  private static String sound(String path) {
    if (!path.isEmpty() && !path.startsWith("/")) {
      throw new Unfillable("\"" + path + "\" is not a path that may be used: it is not absolute");
    }
    for (String part : path.split("/")) {
      if (part.equals("..") || part.chars().anyMatch(Character::isISOControl)) {
        throw new Unfillable("\"" + path + "\" is not a path that may be used");
      }
    }
    return path;
  }

  // ---- the files

  private void bring(Going one, Transfer transfer, Paths paths, RemotePlace from, RemotePlace to)
      throws IOException {
    Attempt attempt = one.attempt();
    Map<String, TransferFileRow> known = new HashMap<>();
    files.of(attempt.id()).forEach(row -> known.put(row.name, row));
    List<RemoteFile> found = found(paths, from);
    one.back();
    long there =
        known.values().stream().filter(row -> !row.state.equals(TransferFileRow.BEGUN)).count()
            + found.stream().filter(file -> isOpen(known.get(file.name()))).count();
    if (there < transfer.atLeast()) {
      throw new Bringing.Refused(
          there
              + " files match "
              + paths.source()
              + "/"
              + paths.pattern()
              + ", and there must be at least "
              + transfer.atLeast());
    }
    long[] bytes = {0, 0};
    known.values().stream()
        .filter(row -> row.state.equals(TransferFileRow.DONE))
        .forEach(row -> count(row.size, bytes));
    for (RemoteFile file : found) {
      if (!isDone(known.get(file.name()))) {
        bring(one, transfer, paths, from, to, file, known.get(file.name()), bytes);
      }
    }
    over(
        one,
        Ending.exited(0),
        Map.of("files", String.valueOf(bytes[0]), "bytes", String.valueOf(bytes[1])));
  }

  private static void count(long size, long[] bytes) {
    bytes[0]++;
    bytes[1] += size;
  }

  private static boolean isOpen(TransferFileRow row) {
    return row == null || row.state.equals(TransferFileRow.BEGUN);
  }

  private static boolean isDone(TransferFileRow row) {
    return row != null
        && List.of(TransferFileRow.DONE, TransferFileRow.SKIPPED).contains(row.state);
  }

  private static List<RemoteFile> found(Paths paths, RemotePlace from) throws IOException {
    if (!from.lists()) {
      return from.look(paths.source() + "/" + paths.pattern()).stream().toList();
    }
    List<RemoteFile> found = new ArrayList<>();
    from.list(
        paths.source(),
        file -> {
          boolean meant =
              paths.pattern().matches(file.name())
                  && !file.leadsOut()
                  && file.name().indexOf('/') < 0
                  && file.name().length() <= 255;
          if (meant && found.size() <= MOST_FILES) {
            found.add(file);
          }
        });
    if (found.size() > MOST_FILES) {
      throw new Bringing.Refused("more than " + MOST_FILES + " files match");
    }
    found.sort(Comparator.comparing(RemoteFile::name));
    return found;
  }

  private void bring(
      Going one,
      Transfer transfer,
      Paths paths,
      RemotePlace from,
      RemotePlace to,
      RemoteFile file,
      TransferFileRow before,
      long[] bytes)
      throws IOException {
    Attempt attempt = one.attempt();
    boolean same =
        before != null && before.size == file.size() && before.modified == file.modified();
    boolean arrived = same && before.state.equals(TransferFileRow.THERE);
    if (!arrived) {
      boolean again = same && before.state.equals(TransferFileRow.BEGUN);
      long began = clock.millis();
      Optional<String> hash = carried(one, transfer, paths, from, to, file, again);
      if (hash.isEmpty()) {
        files.begin(attempt.id(), file);
        files.set(attempt.id(), file.name(), TransferFileRow.SKIPPED, "");
        reports.output(attempt, file.name() + ": is there already, and stays\n");
        return;
      }
      files.set(attempt.id(), file.name(), TransferFileRow.THERE, hash.get());
      reports.output(
          attempt,
          file.name()
              + ": "
              + file.size()
              + " bytes, "
              + (clock.millis() - began)
              + " ms, sha256 "
              + hash.get()
              + "\n");
    }
    afterwards(transfer, paths, from, file);
    files.set(attempt.id(), file.name(), TransferFileRow.DONE, "");
    count(file.size(), bytes);
  }

  /** Carries the content of one; sealed or opened on its way, where that was asked for. */
  private Optional<String> carried(
      Going one,
      Transfer transfer,
      Paths paths,
      RemotePlace from,
      RemotePlace to,
      RemoteFile file,
      boolean again)
      throws IOException {
    Runnable begins = () -> files.begin(one.attempt().id(), file);
    Sealing sealing = transfer.sealing();
    if (!sealing.seals() && !sealing.opens()) {
      return bringing(one, transfer, paths, from, to, file).bring(file, again, begins);
    }
    String path = paths.source() + "/" + file.name();
    try (SealedFile sealed =
        new SealedFile(
            from,
            path,
            file,
            sealing,
            secrets.ofStream(one.attempt(), sealing.signWith()),
            secrets.ofStream(one.attempt(), sealing.decryptWith()),
            () -> one.isStopped() || one.isLetGo())) {
      // sealed anew it differs: what was half there is of no use, and is ours to replace
      Transfer how = again ? transfer.overwriting() : transfer;
      return bringing(one, how, paths, sealed, to, sealed.file())
          .bring(sealed.file(), false, begins);
    }
  }

  private Bringing bringing(
      Going one,
      Transfer transfer,
      Paths paths,
      RemotePlace from,
      RemotePlace to,
      RemoteFile file) {
    return new Bringing(
        from,
        to,
        transfer,
        paths.source(),
        paths.target(),
        () -> one.isStopped() || one.isLetGo(),
        new Progress(one.attempt(), file));
  }

  private static void afterwards(Transfer transfer, Paths paths, RemotePlace from, RemoteFile file)
      throws IOException {
    String path = paths.source() + "/" + file.name();
    switch (transfer.afterwards()) {
      case KEEP -> {
        // it stays where it is
      }
      case REMOVE -> {
        if (from.look(path).isPresent()) {
          from.remove(path);
        }
      }
      case MOVE -> {
        if (from.look(path).isPresent()) {
          from.move(path, paths.moveTo() + "/" + file.name());
        }
      }
    }
  }

  /** Tells now and then how far a file is. */
  private final class Progress implements java.util.function.LongConsumer {
    private final Attempt attempt;
    private final RemoteFile file;
    private long told = clock.millis();

    Progress(Attempt attempt, RemoteFile file) {
      this.attempt = attempt;
      this.file = file;
    }

    @Override
    public void accept(long count) {
      long now = clock.millis();
      if (now - told >= TOLD_EVERY_MILLIS && file.size() > 0) {
        told = now;
        reports.told(attempt, file.name() + ", " + count * 100 / file.size() + " %", false);
      }
    }
  }
}
