package dev.purser.wire.api;

import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.NotBlank;
import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.util.List;

/** What is carried from one environment to another. */
public final class ParcelViews {
  private ParcelViews() {}

  /** Characters of a parcel in base 64. */
  public static final int MOST = 48_000_000;

  /**
   * What is to be packed.
   *
   * @param streams paths of streams
   * @param others definitions of other kinds: {@code file-watch harbour-feed}
   * @param withNeeds whether what they use goes too, but for what each environment has of its own
   * @param signed whether it is signed with the key of this service
   */
  public record PackRequest(
      @Size(max = Limits.FILES) List<@Size(max = Limits.NAME) String> streams,
      @Size(max = Limits.FILES) List<@Size(max = Limits.NAME) String> others,
      boolean withNeeds,
      boolean signed) {}

  /**
   * What is in a parcel.
   *
   * @param from the environment that it comes from
   * @param revision of the definitions there
   * @param definitions what is in it: {@code stream fuel/stock-count}
   * @param expects what it uses and must be there already
   * @param signedBy whose key it is signed with, of those that are trusted; empty for none
   * @param sum SHA-256 of the whole, in hexadecimal
   */
  public record ParcelView(
      String from,
      Instant packed,
      String packedBy,
      long revision,
      List<String> definitions,
      List<String> expects,
      String signedBy,
      String sum) {}

  /** A parcel, packed: a zip in base 64. */
  public record PackedView(ParcelView about, String parcel) {}

  /**
   * A parcel that is looked at or taken.
   *
   * @param parcel the zip in base 64
   * @param map what is called otherwise here: YAML; empty for nothing
   * @param days how far a preview looks ahead; 400 where nothing is said
   */
  public record PromoteRequest(
      @NotBlank @Size(max = MOST) String parcel,
      @Size(max = 1_000_000) String map,
      @Min(1) @Max(1_500) Integer days,
      @Size(max = Limits.REASON) String reason) {}

  /**
   * What a parcel would change here.
   *
   * @param missing what its definitions name and is not here: {@code host quay-9}
   */
  public record ParcelPreview(
      ParcelView about, List<String> missing, ScheduleViews.PreviewView preview) {}
}
