package dev.purser.service.alert;

import java.util.List;

/** Something that can be wrong with the service itself: alerts of kind service. */
public interface ServiceTroubles {
  /** What is wrong now, each reference once. */
  List<SiteTrouble> wrong();
}
