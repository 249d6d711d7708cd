package dev.purser.bench.chaos;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;

/** What statements of the chaos test have written: each run once, however it was cut off. */
final class Bookings {
  static final String TABLES =
      "create table chaos_booked (number bigint auto_increment primary key, run varchar(300) not"
          + " null); create table chaos_attempts (attempt varchar(300) primary key)";

  private Bookings() {}

  static List<String> compare(Comparison.Records records) throws IOException, InterruptedException {
    List<String> wrong = new ArrayList<>();
    for (String run :
        records.query(
            "select concat(r.stream, '/', r.job, '@', r.business_date, '#', r.number) as name,"
                + " (select count(*) from chaos_booked b where b.run = name) as times from run r"
                + " where r.job = 'booked' having times <> 1")) {
      wrong.add("statements of " + run.replace("\t", " have written ") + " times");
    }
    for (String run :
        records.query(
            "select b.run from chaos_booked b where not exists (select 1 from run r where"
                + " concat(r.stream, '/', r.job, '@', r.business_date, '#', r.number) = b.run)")) {
      wrong.add("statements have written for " + run + ", which is not on record");
    }
    return wrong;
  }
}
