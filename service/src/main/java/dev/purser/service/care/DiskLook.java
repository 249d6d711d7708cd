package dev.purser.service.care;

import jakarta.persistence.EntityManager;
import java.io.IOException;
import java.nio.file.FileStore;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.stereotype.Component;

/** Looks at the disks of the database, as far as it is on this machine, and of this service. */
@Component
class DiskLook implements Look {
  private static final double SCARCE = 0.1;
  private static final double NEARLY_NOTHING = 0.02;
  private static final long LEAST = 500_000_000;

  private final EntityManager rows;
  private final String database;

  DiskLook(EntityManager rows, @Value("${spring.datasource.url}") String database) {
    this.rows = rows;
    this.database = database;
  }

  @Override
  public String about() {
    return "disk";
  }

  @Override
  public boolean isTold() {
    return true;
  }

  @Override
  public List<Finding> find() {
    List<Finding> all = new ArrayList<>();
    if (database.contains("//127.0.0.1") || database.contains("//localhost")) {
      Object directory = rows.createNativeQuery("select @@datadir").getSingleResult();
      of("database's disk", Path.of(String.valueOf(directory)), all);
    }
    of("service's disk", Path.of("").toAbsolutePath(), all);
    return all;
  }

  /** What cannot be looked at from here, such as another container's disk, is not told of. */
  private static void of(String what, Path directory, List<Finding> all) {
    try {
      FileStore disk = Files.getFileStore(directory);
      all.add(judge(what, disk.getUsableSpace(), disk.getTotalSpace()));
    } catch (IOException e) {
      all.add(Finding.good(what, "it cannot be looked at from here: " + directory));
    }
  }

  /** How a disk is, by what is free and what there is, in bytes. */
  static Finding judge(String what, long free, long size) {
    double part = size <= 0 ? 1 : (double) free / size;
    String text = String.format(Locale.ROOT, "%.1f of %.1f GB are free", free / 1e9, size / 1e9);
    String remedy = "make room: a full disk keeps no record, and nothing is decided any more";
    if (part < NEARLY_NOTHING || free < LEAST) {
      return Finding.bad(what, text, remedy);
    }
    return part < SCARCE ? Finding.look(what, text, remedy) : Finding.good(what, text);
  }
}
