package dev.purser.remote.cluster;

import static org.assertj.core.api.Assertions.assertThat;

import io.fabric8.kubernetes.api.model.Pod;
import io.fabric8.kubernetes.client.utils.Serialization;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What a cluster says of a pod, as it writes it, and what that means for the work in it. */
class PodsTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      textBlock =
          """
          {}                                                         | Waiting[why=, cannotPull=false]
          {phase: Pending}                                           | Waiting[why=, cannotPull=false]
          {phase: Pending, conditions: [{type: PodScheduled, status: "False", message: no cpu}]} | Waiting[why=no cpu, cannotPull=false]
          {phase: Pending, conditions: [{type: PodScheduled, status: "True"}]} | Waiting[why=, cannotPull=false]
          {phase: Pending, containerStatuses: [{state: {waiting: {reason: ContainerCreating}}}]} | Waiting[why=ContainerCreating, cannotPull=false]
          {phase: Pending, containerStatuses: [{state: {waiting: {reason: ErrImagePull, message: not found}}}]} | Waiting[why=ErrImagePull: not found, cannotPull=true]
          {phase: Pending, containerStatuses: [{state: {waiting: {reason: ImagePullBackOff}}}]} | Waiting[why=ImagePullBackOff, cannotPull=true]
          {phase: Pending, containerStatuses: [{state: {waiting: {reason: InvalidImageName, message: bad}}}]} | Refused[why=InvalidImageName: bad]
          {phase: Pending, containerStatuses: [{state: {waiting: {reason: CreateContainerConfigError}}}]} | Refused[why=CreateContainerConfigError]
          {phase: Running, containerStatuses: [{state: {running: {}}}]} | Running[pod=p, node=n1]
          {phase: Running, containerStatuses: [{state: {terminated: {exitCode: 0, reason: Completed, message: "rows=3"}}}]} | Ended[pod=p, code=0, reason=, message=rows=3]
          {phase: Failed, containerStatuses: [{state: {terminated: {exitCode: 7, reason: Error}}}]} | Ended[pod=p, code=7, reason=, message=]
          {phase: Failed, containerStatuses: [{state: {terminated: {exitCode: 137, reason: OOMKilled}}}]} | Ended[pod=p, code=137, reason=OOMKilled, message=]
          {phase: Failed, reason: Evicted, message: low on memory}   | Lost[pod=p, why=Evicted: low on memory]
          {phase: Failed, reason: Evicted, containerStatuses: [{state: {terminated: {exitCode: 137, reason: Error}}}]} | Lost[pod=p, why=Evicted:]
          {phase: Failed, reason: NodeLost}                          | Lost[pod=p, why=NodeLost:]
          {phase: Failed}                                            | Lost[pod=p, why=]
          """)
  void whatItsStatusMeans(String status, String standing) {
    Pod pod =
        Serialization.unmarshal(
            "apiVersion: v1\nkind: Pod\nmetadata: {name: p}\nspec: {nodeName: n1}\nstatus: "
                + status
                + "\n",
            Pod.class);
    assertThat(Pods.standing(pod)).hasToString(standing);
  }
}
