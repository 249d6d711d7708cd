package dev.purser.service.api.answer;

import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Shorten;
import dev.purser.service.action.Refused;
import dev.purser.service.active.NotNow;
import dev.purser.service.board.NotRecorded;
import dev.purser.service.draft.Drafts;
import dev.purser.service.neighbour.Neighbours;
import dev.purser.service.people.LastAdministrator;
import dev.purser.service.publish.Agreement;
import dev.purser.service.publish.Publisher;
import dev.purser.service.publish.Withdrawing;
import dev.purser.service.source.GitSource;
import java.util.Collection;
import java.util.List;
import java.util.concurrent.CompletionException;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.TypeMismatchException;
import org.springframework.context.MessageSourceResolvable;
import org.springframework.dao.DataAccessException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.HttpStatusCode;
import org.springframework.http.ProblemDetail;
import org.springframework.http.ResponseEntity;
import org.springframework.http.converter.HttpMessageNotReadableException;
import org.springframework.security.access.AccessDeniedException;
import org.springframework.security.core.AuthenticationException;
import org.springframework.transaction.TransactionException;
import org.springframework.validation.FieldError;
import org.springframework.validation.method.ParameterValidationResult;
import org.springframework.web.bind.MethodArgumentNotValidException;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.context.request.WebRequest;
import org.springframework.web.method.annotation.HandlerMethodValidationException;
import org.springframework.web.method.annotation.MethodArgumentTypeMismatchException;
import org.springframework.web.servlet.mvc.method.annotation.ResponseEntityExceptionHandler;
import tools.jackson.core.JacksonException;
import tools.jackson.core.TokenStreamLocation;
import tools.jackson.databind.exc.UnrecognizedPropertyException;

/** Turns what went wrong into problem details (RFC 9457). */
@RestControllerAdvice
public class Problems extends ResponseEntityExceptionHandler {
  private static final int MOST_TOLD = 20;
  private static final Logger LOG = LoggerFactory.getLogger(Problems.class);

  /** Something that is not there. */
  public static final class NotFound extends RuntimeException {
    private static final long serialVersionUID = 1L;

    /** With what is not there and what may be meant, for people. */
    public NotFound(String message) {
      super(message);
    }
  }

  /** Something that cannot be done as things are. */
  public static final class Conflict extends RuntimeException {
    private static final long serialVersionUID = 1L;

    /** With why not, and what can be done, for people. */
    public Conflict(String message) {
      super(message);
    }
  }

  /** What is given in the body is not within its limits. */
  @Override
  protected ResponseEntity<Object> handleMethodArgumentNotValid(
      MethodArgumentNotValidException e,
      HttpHeaders headers,
      HttpStatusCode status,
      WebRequest request) {
    return outside(
        e.getFieldErrors().stream().map(one -> one.getField() + " " + one.getDefaultMessage()));
  }

  /** What is given in the address is not within its limits. */
  @Override
  protected ResponseEntity<Object> handleHandlerMethodValidationException(
      HandlerMethodValidationException e,
      HttpHeaders headers,
      HttpStatusCode status,
      WebRequest request) {
    return outside(
        e.getParameterValidationResults().stream()
            .flatMap(
                result ->
                    result.getResolvableErrors().stream()
                        .map(error -> name(result, error) + " " + error.getDefaultMessage())));
  }

  /**
   * A body that is not what is asked for: where, and what would be right, as far as that is known.
   */
  @Override
  protected ResponseEntity<Object> handleHttpMessageNotReadable(
      HttpMessageNotReadableException e,
      HttpHeaders headers,
      HttpStatusCode status,
      WebRequest request) {
    Throwable cause = e.getCause();
    for (Throwable one = e; one != null; one = one.getCause()) {
      if (one instanceof BodyLimits.TooLarge large) {
        return ResponseEntity.status(HttpStatus.CONTENT_TOO_LARGE)
            .body(problem(HttpStatus.CONTENT_TOO_LARGE, "Too large", large));
      }
    }
    if (cause instanceof UnrecognizedPropertyException unknown) {
      return outside(Stream.of(unknownField(unknown)));
    }
    if (!(cause instanceof JacksonException wrong)) {
      return outside(Stream.of("the body is missing, or cannot be read"));
    }
    String place =
        wrong.getPath().stream()
            .map(
                one ->
                    one.getPropertyName() == null
                        ? "[" + one.getIndex() + "]"
                        : one.getPropertyName())
            .collect(Collectors.joining("."))
            .replace(".[", "[");
    if (wrong.getCause() instanceof NotUnderstood said) {
      return outside(Stream.of((place.isEmpty() ? "" : place + ": ") + said.getMessage()));
    }
    if (!place.isEmpty()) {
      return outside(Stream.of("the value of " + place + " is not of the kind that is asked for"));
    }
    TokenStreamLocation at = wrong.getLocation();
    return outside(
        Stream.of("this is not JSON: see line " + at.getLineNr() + ", column " + at.getColumnNr()));
  }

  private static String unknownField(UnrecognizedPropertyException unknown) {
    Collection<Object> known =
        unknown.getKnownPropertyIds() == null ? List.of() : unknown.getKnownPropertyIds();
    String name = Shorten.printable(unknown.getPropertyName(), 60);
    return "there is no field \""
        + name
        + "\""
        + Nearest.hint(name, known.stream().map(String::valueOf).sorted().toList());
  }

  /** A value in the address that is not of its kind. */
  @Override
  protected ResponseEntity<Object> handleTypeMismatch(
      TypeMismatchException e, HttpHeaders headers, HttpStatusCode status, WebRequest request) {
    String name =
        e instanceof MethodArgumentTypeMismatchException argument
            ? argument.getName()
            : String.valueOf(e.getPropertyName());
    for (Throwable cause = e.getCause(); cause != null; cause = cause.getCause()) {
      if (cause instanceof NotUnderstood said) {
        return outside(Stream.of(name + ": " + said.getMessage()));
      }
    }
    Class<?> type = e.getRequiredType();
    String wanted =
        type == null || !(Number.class.isAssignableFrom(type) || type.isPrimitive())
            ? "a value of another kind"
            : type == boolean.class ? "true or false" : "a whole number";
    return outside(Stream.of(name + " cannot be \"" + e.getValue() + "\": expected " + wanted));
  }

  /** The name of the parameter; in a body the path to the value. */
  private static String name(ParameterValidationResult result, MessageSourceResolvable error) {
    return error instanceof FieldError field
        ? field.getField()
        : result.getMethodParameter().getParameterName();
  }

  private static ResponseEntity<Object> outside(Stream<String> wrong) {
    String all = wrong.sorted().distinct().limit(MOST_TOLD).collect(Collectors.joining("; "));
    return ResponseEntity.badRequest()
        .body(problem(HttpStatus.BAD_REQUEST, "Cannot be understood", new NotUnderstood(all)));
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

  @ExceptionHandler({
    Refused.class,
    LastAdministrator.class,
    Drafts.Refused.class,
    GitSource.Refused.class,
    Neighbours.Away.class
  })
  ProblemDetail refused(RuntimeException e) {
    return problem(HttpStatus.CONFLICT, "Not possible now", e);
  }

  @ExceptionHandler
  ProblemDetail failed(CompletionException e) {
    Throwable cause = e.getCause();
    if (cause instanceof Refused
        || cause instanceof Withdrawing.StillOpen
        || cause instanceof Agreement.Missing) {
      return problem(HttpStatus.CONFLICT, "Not possible now", cause);
    }
    if (cause instanceof Publisher.Outdated) {
      return problem(HttpStatus.PRECONDITION_FAILED, "Changed meanwhile", cause);
    }
    if (cause instanceof NotUnderstood wrong) {
      return wrong(wrong);
    }
    if (cause instanceof NotRecorded) {
      return problem(HttpStatus.UNPROCESSABLE_CONTENT, "Cannot be recorded", cause);
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
