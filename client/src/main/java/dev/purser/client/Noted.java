package dev.purser.client;

import java.lang.annotation.Annotation;
import java.lang.reflect.AnnotatedElement;
import java.lang.reflect.Field;
import java.lang.reflect.Method;
import java.util.HashMap;
import java.util.Map;

/**
 * What the annotations of commands say, and their fields, as the build wrote it down. To read an
 * annotation or a field of a class that it does not know, Java makes classes at every start, which
 * takes a third of a command's time. In the program that people start, the library for commands
 * asks here instead: a step of the build ({@code WrittenNotes}) turns its questions round and fills
 * {@link #of(Class)}. Where that step was not run, as in tests, nothing asks here.
 */
public final class Noted {
  /** Ends the names of methods. */
  private static final String METHOD = "()";

  private static final Annotation[] NONE = {};
  private static final Map<Class<?>, Notes> SEEN = new HashMap<>();

  private Noted() {}

  /** What was written down of one class; the build makes one of these for each. */
  public abstract static class Notes {
    private final Map<String, Annotation[]> annotations = new HashMap<>();

    /**
     * Notes what stands on a field, a method (its name with {@code ()}) or the class ({@code ""}).
     */
    protected final void put(String name, Annotation[] here) {
      annotations.put(name, here);
    }

    /**
     * A field's value, boxed.
     *
     * @throws IllegalArgumentException where nothing stands on such a field
     */
    protected abstract Object get(String field, Object of);

    /**
     * Sets a field.
     *
     * @throws IllegalArgumentException where nothing stands on such a field, or it is final
     */
    protected abstract void set(String field, Object of, Object value);
  }

  /** Nothing stands on the class. */
  static final class Nothing extends Notes {
    @Override
    protected Object get(String field, Object of) {
      throw new IllegalArgumentException(field);
    }

    @Override
    protected void set(String field, Object of, Object value) {
      throw new IllegalArgumentException(field);
    }
  }

  /**
   * What an annotation of one type says of a class, field or method; null where there is none, as
   * {@link AnnotatedElement#getAnnotation} says it.
   */
  public static <A extends Annotation> A annotation(AnnotatedElement on, Class<A> type) {
    if (on instanceof Class<?> itself) {
      return among(itself, "", type);
    }
    if (on instanceof Field field) {
      return among(field.getDeclaringClass(), field.getName(), type);
    }
    return on instanceof Method method
        ? among(method.getDeclaringClass(), method.getName() + METHOD, type)
        : on.getAnnotation(type);
  }

  private static <A extends Annotation> A among(Class<?> of, String name, Class<A> type) {
    for (Annotation one : known(of).annotations.getOrDefault(name, NONE)) {
      if (type.isInstance(one)) {
        return type.cast(one);
      }
    }
    return null;
  }

  private static Notes known(Class<?> of) {
    return SEEN.computeIfAbsent(of, Noted::of);
  }

  /** Whether a class, field or method has an annotation of a type. */
  public static boolean has(AnnotatedElement on, Class<? extends Annotation> type) {
    return annotation(on, type) != null;
  }

  /** The value of a field of a command, as {@link Field#get} says it. */
  public static Object get(Field field, Object of) {
    return known(field.getDeclaringClass()).get(field.getName(), of);
  }

  /** Sets a field of a command, as {@link Field#set} does. */
  public static void set(Field field, Object of, Object value) {
    known(field.getDeclaringClass()).set(field.getName(), of, value);
  }

  /**
   * What was written down of a class, {@link Nothing} where nothing stands on it. The build puts a
   * table in the place of this.
   */
  private static Notes of(Class<?> one) {
    throw new IllegalStateException("the annotations of " + one + " were not written down");
  }
}
