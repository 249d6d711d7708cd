package dev.purser.service.source;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** The repository that definitions come from; there is one at most. */
@Entity
@Table(name = "definition_source")
public class SourceRow {
  static final long ONLY = 1;

  @Id public long id;
  public String address;
  public String branch;

  /** Below which they are; empty for all of it. */
  public String directory;

  /** The name to sign in with; its secret is a setting of the service; empty for none. */
  public String account;

  /** Whether sound commits are published without a person's yes. */
  public boolean byItself;

  /** When it was looked at; null where it never was. */
  public Instant looked;

  /** Why what it has now is not published; empty where nothing is wrong. */
  public String problem = "";

  /** The commit that was there at the last look; empty for none. */
  public String head = "";

  public String headAuthor = "";
  public String headMessage = "";

  /** The commit that was published last; empty for none. */
  public String published = "";
}
