package dev.purser.service.api.answer;

import java.lang.annotation.Documented;
import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/**
 * The list that an operation answers with is given in pages: it takes {@code limit} and {@code
 * after} besides its own parameters, and says in a {@code Link} header (RFC 8288) where the next
 * page is.
 */
@Documented
@Target(ElementType.METHOD)
@Retention(RetentionPolicy.RUNTIME)
public @interface Paged {
  /** The components of the list's records that together tell one entry from all others. */
  String[] by();

  /**
   * Whether the operation cuts its list itself, by parameters {@code limit} and {@code before}: the
   * newest entries come first, and older ones are those before the last.
   */
  boolean newestFirst() default false;
}
