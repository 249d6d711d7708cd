package dev.purser.service.api.answer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import jakarta.servlet.FilterChain;
import java.time.Duration;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.springframework.mock.web.MockHttpServletRequest;
import org.springframework.mock.web.MockHttpServletResponse;

/** Large requests wait for each other; all else passes them by. */
class HeavyRequestsTest {
  private final HeavyRequests filter = new HeavyRequests(1, 5, Duration.ofMillis(50));

  private MockHttpServletResponse send(String path, FilterChain chain) throws Exception {
    MockHttpServletResponse response = new MockHttpServletResponse();
    filter.doFilter(new MockHttpServletRequest("POST", path), response, chain);
    return response;
  }

  @Test
  void whoeverFindsNoPlaceIsToldToComeBackAndOthersAreNotKept() throws Exception {
    CountDownLatch inside = new CountDownLatch(1);
    CountDownLatch go = new CountDownLatch(1);
    CompletableFuture<Integer> first =
        CompletableFuture.supplyAsync(
            () -> {
              try {
                return send(
                        "/api/v1/what-if",
                        (request, response) -> {
                          inside.countDown();
                          try {
                            assertThat(go.await(20, TimeUnit.SECONDS)).isTrue();
                          } catch (InterruptedException e) {
                            throw new IllegalStateException(e);
                          }
                        })
                    .getStatus();
              } catch (Exception e) {
                throw new IllegalStateException(e);
              }
            });
    assertThat(inside.await(20, TimeUnit.SECONDS)).isTrue();
    MockHttpServletResponse second = send("/api/v1/definitions/check", (a, b) -> {});
    assertThat(second.getStatus()).isEqualTo(503);
    assertThat(second.getContentAsString()).contains("nothing was done");
    assertThat(second.getHeader("Retry-After")).isEqualTo("10");
    assertThat(send("/api/v1/actions", (a, b) -> {}).getStatus()).isEqualTo(200);
    go.countDown();
    assertThat(first.get(20, TimeUnit.SECONDS)).isEqualTo(200);
    assertThat(send("/api/v1/definitions/check", (a, b) -> {}).getStatus()).isEqualTo(200);
  }

  /** A crowd that waits would take all threads: beyond a few, nobody waits at all. */
  @Test
  void whoeverWouldStandInALongLineIsToldAtOnce() throws Exception {
    HeavyRequests patient = new HeavyRequests(1, 0, Duration.ofMinutes(10));
    MockHttpServletResponse inner = new MockHttpServletResponse();
    patient.doFilter(
        new MockHttpServletRequest("POST", "/api/v1/what-if"),
        new MockHttpServletResponse(),
        (a, b) ->
            patient.doFilter(
                new MockHttpServletRequest("POST", "/api/v1/definitions/check"),
                inner,
                (c, d) -> {}));
    assertThat(inner.getStatus()).isEqualTo(503);
  }

  /** A place is free again however the request ends. */
  @Test
  void aRequestThatFailsGivesItsPlaceBack() {
    for (int i = 0; i < 3; i++) {
      assertThatThrownBy(
              () ->
                  send(
                      "/api/v1/outlook",
                      (a, b) -> {
                        throw new IllegalStateException("broken");
                      }))
          .hasMessage("broken");
    }
  }
}
