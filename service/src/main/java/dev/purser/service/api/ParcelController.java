package dev.purser.service.api;

import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.preview.Preview;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.view.PreviewViews;
import dev.purser.service.commitment.Commitments;
import dev.purser.service.parcel.Parcels;
import dev.purser.service.plan.Pauses;
import dev.purser.service.publish.Publisher;
import dev.purser.wire.api.ParcelViews;
import dev.purser.wire.api.Views;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Parcels: packing what is in force here, and taking in what was tested elsewhere. */
@RestController
@RequestMapping(path = "/api/v1/parcels", produces = MediaType.APPLICATION_JSON_VALUE)
class ParcelController {
  private final Parcels parcels;
  private final Pauses pauses;
  private final Commitments commitments;

  ParcelController(Parcels parcels, Pauses pauses, Commitments commitments) {
    this.parcels = parcels;
    this.pauses = pauses;
    this.commitments = commitments;
  }

  /** Packs definitions that are in force. */
  @PostMapping("/packed")
  ParcelViews.PackedView pack(
      @Valid @RequestBody ParcelViews.PackRequest request,
      Authentication who,
      HttpServletRequest http) {
    List<Named> wanted = new ArrayList<>();
    if (request.streams() != null) {
      request.streams().forEach(name -> wanted.add(new Named(Kind.STREAM, name)));
    }
    if (request.others() != null) {
      request.others().forEach(one -> wanted.add(named(one)));
    }
    Parcels.Parcel packed =
        parcels.pack(wanted, request.withNeeds(), request.signed(), Asking.actor(who, http));
    return new ParcelViews.PackedView(
        view(packed), Base64.getEncoder().encodeToString(packed.bytes()));
  }

  static Named named(String text) {
    int space = text.indexOf(' ');
    if (space < 0) {
      throw new NotUnderstood(
          "\"" + text + "\" is not a kind and a name, as in \"file-watch harbour-feed\"");
    }
    return new Named(
        VersionController.kind(text.substring(0, space)), text.substring(space + 1).strip());
  }

  static ParcelViews.ParcelView view(Parcels.Parcel parcel) {
    return new ParcelViews.ParcelView(
        parcel.from(),
        parcel.packed(),
        parcel.packedBy(),
        parcel.revision(),
        parcel.definitions(),
        parcel.expects(),
        parcel.signedBy(),
        parcel.sum());
  }

  /** What taking a parcel in would change here; changes nothing. */
  @PostMapping("/preview")
  ParcelViews.ParcelPreview preview(@Valid @RequestBody ParcelViews.PromoteRequest request) {
    int days = request.days() == null ? Preview.DAYS_AHEAD : request.days();
    Parcels.Looked looked = parcels.look(bytes(request), map(request), days);
    return new ParcelViews.ParcelPreview(
        view(looked.about()),
        looked.missing(),
        PreviewViews.view(looked.previewed(), pauses, commitments));
  }

  /** Takes a parcel in: all of it, or nothing. */
  @PostMapping
  ResponseEntity<Views.PublishResult> take(
      @Valid @RequestBody ParcelViews.PromoteRequest request,
      @RequestHeader(name = "If-Match", required = false) String seen,
      Authentication who,
      HttpServletRequest http) {
    Publisher.Outcome outcome =
        parcels.take(
            bytes(request),
            map(request),
            DefinitionController.revision(seen),
            Asking.actor(who, http),
            request.reason() == null ? "" : request.reason());
    return ResponseEntity.status(outcome.sound() ? 200 : 422)
        .body(DefinitionController.view(outcome));
  }

  private static String map(ParcelViews.PromoteRequest request) {
    return request.map() == null ? "" : request.map();
  }

  private static byte[] bytes(ParcelViews.PromoteRequest request) {
    try {
      return Base64.getDecoder().decode(request.parcel());
    } catch (IllegalArgumentException e) {
      throw new NotUnderstood("the parcel is not in base 64");
    }
  }
}
