package dev.purser.remote.cluster;

import io.fabric8.kubernetes.api.model.ContainerStateTerminated;
import io.fabric8.kubernetes.api.model.ContainerStateWaiting;
import io.fabric8.kubernetes.api.model.ContainerStatus;
import io.fabric8.kubernetes.api.model.Pod;
import io.fabric8.kubernetes.api.model.PodCondition;
import io.fabric8.kubernetes.api.model.PodStatus;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Reads how a pod stands. */
final class Pods {
  private static final Set<String> CANNOT_PULL =
      Set.of("ErrImagePull", "ImagePullBackOff", "RegistryUnavailable");
  private static final Set<String> NEVER =
      Set.of("InvalidImageName", "CreateContainerConfigError", "CreateContainerError");

  private Pods() {}

  static Standing standing(Pod pod) {
    String name = pod.getMetadata().getName();
    PodStatus status = pod.getStatus() == null ? new PodStatus() : pod.getStatus();
    Optional<ContainerStatus> container =
        Optional.ofNullable(status.getContainerStatuses()).orElse(List.of()).stream().findFirst();
    Optional<ContainerStateTerminated> end =
        container.map(one -> one.getState()).map(state -> state.getTerminated());
    String reason = text(status.getReason());
    // where the cluster itself ended it, the exit code is the cluster's
    if (reason.equals("Evicted") || reason.equals("NodeLost") || reason.equals("Shutdown")) {
      return new Standing.Lost(name, (reason + ": " + text(status.getMessage())).strip());
    }
    if (end.isPresent()) {
      ContainerStateTerminated one = end.get();
      int code = one.getExitCode() == null ? -1 : one.getExitCode();
      String why =
          Set.of("Completed", "Error").contains(text(one.getReason())) ? "" : one.getReason();
      return new Standing.Ended(name, code, text(why), text(one.getMessage()));
    }
    if ("Failed".equals(status.getPhase())) {
      return new Standing.Lost(name, (reason + " " + text(status.getMessage())).strip());
    }
    if (container.map(one -> one.getState()).map(state -> state.getRunning()).isPresent()) {
      return new Standing.Running(name, text(pod.getSpec().getNodeName()));
    }
    return container
        .map(one -> one.getState())
        .map(state -> state.getWaiting())
        .map(Pods::waiting)
        .orElseGet(() -> new Standing.Waiting(unscheduled(status), false));
  }

  private static Standing waiting(ContainerStateWaiting one) {
    String reason = text(one.getReason());
    String message = text(one.getMessage());
    String why = message.isEmpty() ? reason : reason + ": " + message;
    if (NEVER.contains(reason)) {
      return new Standing.Refused(why);
    }
    return new Standing.Waiting(why, CANNOT_PULL.contains(reason));
  }

  /** Why no node takes it; empty where one does, or nobody says. */
  private static String unscheduled(PodStatus status) {
    return Optional.ofNullable(status.getConditions()).orElse(List.of()).stream()
        .filter(one -> one.getType().equals("PodScheduled") && one.getStatus().equals("False"))
        .map(PodCondition::getMessage)
        .map(Pods::text)
        .findFirst()
        .orElse("");
  }

  private static String text(String text) {
    return text == null ? "" : text;
  }
}
