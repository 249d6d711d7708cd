package dev.purser.service.api;

import dev.purser.service.action.Actions;
import dev.purser.service.publish.Publisher;
import java.util.concurrent.CompletionException;
import org.springframework.dao.DataAccessException;
import org.springframework.http.HttpStatus;
import org.springframework.http.ProblemDetail;
import org.springframework.security.access.AccessDeniedException;
import org.springframework.transaction.TransactionException;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.servlet.mvc.method.annotation.ResponseEntityExceptionHandler;

/** Turns what went wrong into problem details (RFC 9457). */
@RestControllerAdvice
class Problems extends ResponseEntityExceptionHandler {

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
  ProblemDetail wrong(IllegalArgumentException e) {
    return problem(HttpStatus.BAD_REQUEST, "Cannot be understood", e);
  }

  @ExceptionHandler
  ProblemDetail busy(IllegalStateException e) {
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
  ProblemDetail refused(Actions.Refused e) {
    return problem(HttpStatus.CONFLICT, "Not possible now", e);
  }

  @ExceptionHandler
  ProblemDetail failed(CompletionException e) {
    Throwable cause = e.getCause();
    if (cause instanceof Actions.Refused) {
      return problem(HttpStatus.CONFLICT, "Not possible now", cause);
    }
    if (cause instanceof Publisher.Outdated) {
      return problem(HttpStatus.PRECONDITION_FAILED, "Changed meanwhile", cause);
    }
    if (cause instanceof IllegalArgumentException wrong) {
      return wrong(wrong);
    }
    if (cause instanceof IllegalStateException busy) {
      return busy(busy);
    }
    throw e;
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
