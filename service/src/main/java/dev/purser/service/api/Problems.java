package dev.purser.service.api;

import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.action.Refused;
import dev.purser.service.active.NotNow;
import dev.purser.service.publish.Publisher;
import java.util.concurrent.CompletionException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;
import org.springframework.http.HttpStatus;
import org.springframework.http.ProblemDetail;
import org.springframework.security.access.AccessDeniedException;
import org.springframework.security.core.AuthenticationException;
import org.springframework.transaction.TransactionException;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.servlet.mvc.method.annotation.ResponseEntityExceptionHandler;

/** Turns what went wrong into problem details (RFC 9457). */
@RestControllerAdvice
class Problems extends ResponseEntityExceptionHandler {
  private static final Logger LOG = LoggerFactory.getLogger(Problems.class);

  /** Something that is not there. */
  static final class NotFound extends RuntimeException {
    private static final long serialVersionUID = 1L;

    NotFound(String message) {
      super(message);
    }
  }

  /** Something that cannot be done as things are. */
  static final class Conflict extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Conflict(String message) {
      super(message);
    }
  }

  @ExceptionHandler
  ProblemDetail notFound(NotFound e) {
    return problem(HttpStatus.NOT_FOUND, "Not found", e);
  }

  @ExceptionHandler
  ProblemDetail conflict(Conflict e) {
    return problem(HttpStatus.CONFLICT, "Not possible now", e);
  }

  @ExceptionHandler
  ProblemDetail wrong(NotUnderstood e) {
    return problem(HttpStatus.BAD_REQUEST, "Cannot be understood", e);
  }

  @ExceptionHandler
  ProblemDetail busy(NotNow e) {
    return problem(HttpStatus.SERVICE_UNAVAILABLE, "Not possible now", e);
  }

  @ExceptionHandler({DataAccessException.class, TransactionException.class})
  ProblemDetail databaseAway(RuntimeException e) {
    ProblemDetail problem =
        ProblemDetail.forStatusAndDetail(
            HttpStatus.SERVICE_UNAVAILABLE,
            "The database cannot be reached. Work that runs goes on; try again in a moment.");
    problem.setTitle("Database away");
    return problem;
  }

  @ExceptionHandler
  ProblemDetail refused(Refused e) {
    return problem(HttpStatus.CONFLICT, "Not possible now", e);
  }

  @ExceptionHandler
  ProblemDetail failed(CompletionException e) {
    Throwable cause = e.getCause();
    if (cause instanceof Refused) {
      return problem(HttpStatus.CONFLICT, "Not possible now", cause);
    }
    if (cause instanceof Publisher.Outdated) {
      return problem(HttpStatus.PRECONDITION_FAILED, "Changed meanwhile", cause);
    }
    if (cause instanceof NotUnderstood wrong) {
      return wrong(wrong);
    }
    if (cause instanceof NotNow busy) {
      return busy(busy);
    }
    return fault(cause instanceof RuntimeException fault ? fault : e);
  }

  /**
   * What nobody has foreseen is a fault of the service: the log has it, and who asked is told so.
   */
  @ExceptionHandler
  ProblemDetail fault(RuntimeException e) {
    if (e instanceof AuthenticationException) {
      throw e; // for Spring Security to answer
    }
    LOG.error("a request has met a fault of the service", e);
    ProblemDetail problem =
        ProblemDetail.forStatusAndDetail(
            HttpStatus.INTERNAL_SERVER_ERROR,
            "This is a fault of the service, not of what was asked; its log says more.");
    problem.setTitle("Fault of the service");
    return problem;
  }

  @ExceptionHandler
  void denied(AccessDeniedException e) {
    throw e; // for Spring Security to answer
  }

  private static ProblemDetail problem(HttpStatus status, String title, Throwable e) {
    ProblemDetail problem =
        ProblemDetail.forStatusAndDetail(status, String.valueOf(e.getMessage()));
    problem.setTitle(title);
    return problem;
  }
}
