package dev.purser.service.agent;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.doThrow;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import dev.purser.core.event.BoardEvent;
import dev.purser.service.board.Began;
import dev.purser.service.board.Engine;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.InstantSource;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class BackSoonTest {
  private static final Instant BEGAN = Instant.parse("2027-03-04T03:00:00Z");
  private final HostRecords records = mock(HostRecords.class);
  private final List<HostRow> rows = new ArrayList<>();
  private Instant now = BEGAN;
  private final InstantSource source = () -> now;
  private final Clock clock = source.withZone(ZoneOffset.UTC);
  private BackSoon soon;

  @BeforeEach
  void begin() {
    when(records.all()).thenReturn(rows);
    start();
  }

  private void start() {
    soon = new BackSoon(records, new Began(clock), clock);
  }

  private void row(String name, String enrolled, String lastSeen) {
    HostRow row = new HostRow();
    row.name = name;
    row.enrolled = Instant.parse(enrolled);
    row.lastSeen = lastSeen == null ? null : Instant.parse(lastSeen);
    rows.add(row);
  }

  private void happens(BoardEvent... events) {
    soon.committed(new Engine.Committed(List.of(), List.of(events), List.of()));
  }

  private BoardEvent seen(String host) {
    return new BoardEvent.HostSeen(now.toEpochMilli(), host, Set.of());
  }

  private BoardEvent lost(String host) {
    return new BoardEvent.HostLost(now.toEpochMilli(), host);
  }

  @Test
  void afterAStartThoseAreExpectedWhoWereThereWhenHostsWereLastSeen() {
    row("pier", "2026-01-01T00:00:00Z", "2027-03-03T22:00:20Z");
    row("crane", "2026-01-01T00:00:00Z", "2027-03-03T21:58:20Z");
    row("scrapped", "2026-01-01T00:00:00Z", "2027-03-03T21:58:19Z");
    row("never", "2026-01-01T00:00:00Z", null);
    row("fresh", "2027-03-04T02:59:00Z", null);
    assertThat(soon.expected()).containsExactlyInAnyOrder("pier", "crane", "fresh");
    now = BEGAN.plus(Duration.ofMinutes(1));
    assertThat(soon.expected()).as("whoever is not there by now is away").isEmpty();
    start();
    assertThat(soon.expected()).as("a new beginning").contains("crane");
  }

  @Test
  void whoWasThereAMomentAgoIsExpectedForAMinute() {
    now = BEGAN.plus(Duration.ofHours(1));
    happens(seen("pier"), lost("pier"), lost("crane"));
    assertThat(soon.expected()).as("crane was not there before either").containsExactly("pier");
    now = now.plus(Duration.ofMinutes(1));
    assertThat(soon.expected()).containsExactly("pier");
    now = now.plusMillis(1);
    assertThat(soon.expected()).isEmpty();
    happens(seen("pier"), lost("pier"), seen("pier"));
    assertThat(soon.expected()).as("it has come back").isEmpty();
    happens(lost("pier"));
    soon.takenUp(new Engine.TakenUp());
    assertThat(soon.expected()).as("of a board that is no more").isEmpty();
  }

  @Test
  void withoutTheRecordsOnlyThoseAreExpectedWhoWereSeen() {
    doThrow(new IllegalStateException("the database is away")).when(records).all();
    happens(seen("pier"), lost("pier"));
    assertThat(soon.expected()).containsExactly("pier");
  }
}
