package dev.purser.service.start;

import org.springframework.boot.diagnostics.AbstractFailureAnalyzer;
import org.springframework.boot.diagnostics.FailureAnalysis;

/** Says why in two sentences instead of a hundred lines. */
public final class CannotStartInWords extends AbstractFailureAnalyzer<CannotStart> {
  @Override
  protected FailureAnalysis analyze(Throwable failure, CannotStart cause) {
    return new FailureAnalysis(cause.getMessage(), cause.remedy(), cause);
  }
}
