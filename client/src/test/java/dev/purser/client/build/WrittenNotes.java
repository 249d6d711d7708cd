package dev.purser.client.build;

import static org.objectweb.asm.Opcodes.ACC_FINAL;
import static org.objectweb.asm.Opcodes.ACC_PRIVATE;
import static org.objectweb.asm.Opcodes.ACC_PROTECTED;
import static org.objectweb.asm.Opcodes.ACC_PUBLIC;
import static org.objectweb.asm.Opcodes.ACC_STATIC;
import static org.objectweb.asm.Opcodes.ACC_SUPER;
import static org.objectweb.asm.Opcodes.ASM9;
import static org.objectweb.asm.Opcodes.V17;

import java.io.IOException;
import java.lang.annotation.Annotation;
import java.lang.reflect.AnnotatedElement;
import java.lang.reflect.Array;
import java.lang.reflect.Field;
import java.lang.reflect.Method;
import java.lang.reflect.Modifier;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.jar.JarFile;
import java.util.stream.Stream;
import org.objectweb.asm.ClassReader;
import org.objectweb.asm.ClassVisitor;
import org.objectweb.asm.ClassWriter;
import org.objectweb.asm.FieldVisitor;
import org.objectweb.asm.Label;
import org.objectweb.asm.MethodVisitor;
import org.objectweb.asm.Opcodes;
import org.objectweb.asm.Type;
import org.objectweb.asm.commons.GeneratorAdapter;

/**
 * A step of the build: what the annotations of commands say is written down as plain classes, and
 * the library for commands asks for those ({@code dev.purser.client.Noted}). Of each type of
 * annotation a class is made that says its defaults ({@code …Note}), of each class with annotations
 * one that makes them and reaches its fields ({@code …$Notes}). At the end all that was written
 * down is held against what Java itself reads; where anything differs, the build fails.
 */
public final class WrittenNotes {
  private static final String LIBRARY = "picocli/";
  private static final String OWN = "dev/purser/client/";
  private static final String JSON = "tools/jackson/";
  private static final String NOTED = OWN + "Noted";
  private static final String METHOD = "()";
  private static final String MARKED = NOTED + "$Marked";
  private static final Type ANNOTATION = Type.getType(Annotation.class);
  private static final Type NOTES = Type.getObjectType(NOTED + "$Notes");
  private static final Type TEXT = Type.getType(String.class);
  private static final String FIELD = "java/lang/reflect/Field";
  private static final Map<String, String> WAYS = Map.of("get", "get", "set", "set");
  private static final Map<String, String> QUESTIONS =
      Map.of("getAnnotation", "annotation", "isAnnotationPresent", "has");
  private static final Set<String> ASKED =
      Set.of(
          "java/lang/Class",
          "java/lang/reflect/Method",
          FIELD,
          "java/lang/reflect/AccessibleObject",
          "java/lang/reflect/AnnotatedElement");

  private final Map<String, byte[]> made = new LinkedHashMap<>();
  private final Map<Class<?>, Type> written = new LinkedHashMap<>();
  private final AtomicInteger turned = new AtomicInteger();

  private WrittenNotes() {}

  /** Writes down what stands on the classes of the jar that is named. */
  public static void main(String[] args) throws IOException, ReflectiveOperationException {
    Path jar = Path.of(args[0]);
    WrittenNotes step = new WrittenNotes();
    try (URLClassLoader classes = loader(jar)) {
      step.write(jar, classes);
      JarStep.rewrite(jar, step::change, step.made);
    }
    if (step.turned.get() == 0 || step.written.isEmpty()) {
      throw new IllegalStateException("the library for commands asks for annotations otherwise");
    }
    try (URLClassLoader classes = loader(jar)) {
      for (Class<?> one : step.written.keySet()) {
        compare(Class.forName(one.getName(), false, classes), classes);
      }
    }
  }

  private static URLClassLoader loader(Path jar) throws IOException {
    return new URLClassLoader(
        new URL[] {jar.toUri().toURL()}, ClassLoader.getPlatformClassLoader());
  }

  private void write(Path jar, ClassLoader classes)
      throws IOException, ReflectiveOperationException {
    try (JarFile in = new JarFile(jar.toFile())) {
      List<String> names =
          in.stream()
              .map(java.util.zip.ZipEntry::getName)
              .filter(name -> Stream.of(LIBRARY, OWN, JSON).anyMatch(name::startsWith))
              .filter(name -> name.endsWith(".class"))
              .map(name -> name.substring(0, name.length() - 6).replace('/', '.'))
              .sorted()
              .toList();
      for (String name : names) {
        Class<?> one = Class.forName(name, false, classes);
        Map<String, List<Annotation>> notes = notes(one);
        if (!notes.isEmpty()) {
          boolean marked = name.startsWith(JSON.replace('/', '.'));
          Type type = Type.getObjectType(marked ? MARKED : Type.getInternalName(one) + "$Notes");
          if (!written.containsValue(type)) {
            writeNotes(type, one, notes);
          }
          written.put(one, type);
        }
      }
    }
  }

  /** What stands on a class and its fields, by the names of fields. */
  private static Map<String, List<Annotation>> notes(Class<?> of) {
    Map<String, List<Annotation>> all = new TreeMap<>();
    keep(all, "", of);
    if (of.getName().startsWith(JSON.replace('/', '.'))) {
      return all; // it only asks which classes are its own
    }
    for (Field field : of.getDeclaredFields()) {
      keep(all, field.getName(), field);
    }
    for (Method method : of.getDeclaredMethods()) {
      String name = method.getName() + METHOD;
      if (all.containsKey(name) && !of(method).isEmpty()) {
        throw new IllegalStateException(method + ": another method has this name and is a command");
      }
      keep(all, name, method);
    }
    return all;
  }

  private static void keep(
      Map<String, List<Annotation>> all, String name, AnnotatedElement element) {
    List<Annotation> here = of(element);
    if (!here.isEmpty()) {
      all.put(name, here);
    }
  }

  private static List<Annotation> of(AnnotatedElement element) {
    return Stream.of(element.getDeclaredAnnotations())
        .filter(
            one -> {
              String name = one.annotationType().getName();
              return name.startsWith("picocli.") || name.endsWith(".JacksonStdImpl");
            })
        .toList();
  }

  // ---------------------------------------------------------------- the classes that are made

  private static Type noteOf(Class<?> annotation) {
    return Type.getObjectType(LIBRARY + annotation.getName().replaceAll(".*[.$]", "") + "Note");
  }

  private static List<Method> parts(Class<?> annotation) {
    return Stream.of(annotation.getDeclaredMethods())
        .sorted(Comparator.comparing(Method::getName))
        .toList();
  }

  /** A class that is an annotation of one type: fields that can be set, with its defaults. */
  private void writeNote(Class<?> annotation) {
    Type type = noteOf(annotation);
    ClassWriter out = new ClassWriter(ClassWriter.COMPUTE_MAXS);
    out.visit(
        V17,
        ACC_PUBLIC | ACC_FINAL | ACC_SUPER,
        type.getInternalName(),
        null,
        "java/lang/Object",
        new String[] {Type.getInternalName(annotation)});
    GeneratorAdapter start = method(out, ACC_PUBLIC, "void <init> ()");
    start.loadThis();
    start.invokeConstructor(Type.getType(Object.class), as("void <init> ()"));
    for (Method part : parts(annotation)) {
      Type returned = Type.getType(part.getReturnType());
      out.visitField(ACC_PUBLIC, part.getName(), returned.getDescriptor(), null, null);
      if (part.getDefaultValue() != null) {
        start.loadThis();
        push(start, part.getReturnType(), part.getDefaultValue());
        start.putField(type, part.getName(), returned);
      }
      GeneratorAdapter get =
          new GeneratorAdapter(
              ACC_PUBLIC,
              new org.objectweb.asm.commons.Method(part.getName(), returned, new Type[0]),
              null,
              null,
              out);
      get.loadThis();
      get.getField(type, part.getName(), returned);
      end(get);
    }
    end(start);
    GeneratorAdapter which = method(out, ACC_PUBLIC, "Class annotationType ()");
    which.push(Type.getType(annotation));
    end(which);
    out.visitEnd();
    made.put(type.getInternalName() + ".class", out.toByteArray());
  }

  /** The notes of one class: all its annotations, and the ways to the fields that have any. */
  private void writeNotes(Type type, Class<?> of, Map<String, List<Annotation>> notes)
      throws ReflectiveOperationException {
    ClassWriter out = new ClassWriter(ClassWriter.COMPUTE_FRAMES | ClassWriter.COMPUTE_MAXS);
    out.visit(
        V17,
        ACC_PUBLIC | ACC_FINAL | ACC_SUPER,
        type.getInternalName(),
        null,
        NOTES.getInternalName(),
        null);
    GeneratorAdapter start = method(out, ACC_PUBLIC, "void <init> ()");
    start.loadThis();
    start.invokeConstructor(NOTES, as("void <init> ()"));
    for (Map.Entry<String, List<Annotation>> one : notes.entrySet()) {
      start.loadThis();
      start.push(one.getKey());
      start.push(one.getValue().size());
      start.newArray(ANNOTATION);
      for (int i = 0; i < one.getValue().size(); i++) {
        start.dup();
        start.push(i);
        make(start, one.getValue().get(i));
        start.arrayStore(ANNOTATION);
      }
      start.invokeVirtual(
          type,
          new org.objectweb.asm.commons.Method(
              "put", Type.VOID_TYPE, new Type[] {TEXT, Type.getType(Annotation[].class)}));
    }
    end(start);
    writeWay(out, of, notes.keySet(), false);
    writeWay(out, of, notes.keySet(), true);
    out.visitEnd();
    made.put(type.getInternalName() + ".class", out.toByteArray());
  }

  /** Makes one annotation: all that it says other than its defaults. */
  private void make(GeneratorAdapter out, Annotation note) throws ReflectiveOperationException {
    Type type = noteOf(note.annotationType());
    if (!made.containsKey(type.getInternalName() + ".class")) {
      writeNote(note.annotationType());
    }
    out.newInstance(type);
    out.dup();
    out.invokeConstructor(type, as("void <init> ()"));
    for (Method part : parts(note.annotationType())) {
      part.setAccessible(true);
      Object value = part.invoke(note);
      if (!same(value, part.getDefaultValue())) {
        out.dup();
        push(out, part.getReturnType(), value);
        out.putField(type, part.getName(), Type.getType(part.getReturnType()));
      }
    }
  }

  /** Reads, or sets, the field that is named. */
  private static void writeWay(ClassVisitor out, Class<?> of, Set<String> names, boolean set)
      throws ReflectiveOperationException {
    Type owner = Type.getType(of);
    GeneratorAdapter way =
        method(
            out,
            ACC_PROTECTED,
            set ? "void set (String, Object, Object)" : "Object get (String, Object)");
    for (String name : names) {
      if (name.isEmpty() || name.endsWith(METHOD)) {
        continue;
      }
      Field field = of.getDeclaredField(name);
      int access = field.getModifiers();
      if (Modifier.isStatic(access) || (set && Modifier.isFinal(access))) {
        continue;
      }
      Label next = way.newLabel();
      Type type = Type.getType(field.getType());
      way.loadArg(0);
      way.push(name);
      way.invokeVirtual(TEXT, as("boolean equals (Object)"));
      way.ifZCmp(GeneratorAdapter.EQ, next);
      way.loadArg(1);
      way.checkCast(owner);
      if (set) {
        way.loadArg(2);
        way.unbox(type);
        way.putField(owner, name, type);
      } else {
        way.getField(owner, name, type);
        way.valueOf(type);
      }
      way.returnValue();
      way.mark(next);
    }
    Type wrong = Type.getType(IllegalArgumentException.class);
    way.newInstance(wrong);
    way.dup();
    way.loadArg(0);
    way.invokeConstructor(wrong, as("void <init> (String)"));
    way.throwException();
    way.endMethod();
  }

  private static GeneratorAdapter method(ClassVisitor out, int access, String declared) {
    return new GeneratorAdapter(access, as(declared), null, null, out);
  }

  private static org.objectweb.asm.commons.Method as(String declared) {
    return org.objectweb.asm.commons.Method.getMethod(declared);
  }

  private static void end(GeneratorAdapter method) {
    method.returnValue();
    method.endMethod();
  }

  private static void push(GeneratorAdapter out, Class<?> type, Object value) {
    if (type.isArray()) {
      out.push(Array.getLength(value));
      out.newArray(Type.getType(type.getComponentType()));
      for (int i = 0; i < Array.getLength(value); i++) {
        out.dup();
        out.push(i);
        push(out, type.getComponentType(), Array.get(value, i));
        out.arrayStore(Type.getType(type.getComponentType()));
      }
    } else if (value instanceof String text) {
      out.push(text);
    } else if (value instanceof Boolean flag) {
      out.push(flag);
    } else if (value instanceof Character letter) {
      out.push(letter);
    } else if (value instanceof Integer number) {
      out.push(number);
    } else if (value instanceof Class<?> named) {
      out.push(Type.getType(named));
    } else if (value instanceof Enum<?> one) {
      Type owner = Type.getType(one.getDeclaringClass());
      out.getStatic(owner, one.name(), owner);
    } else {
      throw new IllegalStateException("a value of " + type + " cannot be written down yet");
    }
  }

  private static boolean same(Object a, Object b) {
    return Arrays.deepEquals(new Object[] {a}, new Object[] {b});
  }

  // ---------------------------------------------------------------- what is turned round

  private byte[] change(String name, byte[] content) {
    if (name.equals(NOTED + ".class")) {
      return table(content);
    }
    if (!name.endsWith(".class")) {
      return content;
    }
    boolean asks =
        name.startsWith(LIBRARY)
            || name.equals(OWN + "FurtherWords.class")
            || name.equals(JSON + "databind/util/ClassUtil.class");
    byte[] turned = asks ? asking(content) : content;
    return made.containsKey(name.replace(".class", "$Notes.class")) ? open(turned) : turned;
  }

  /** The library's questions, asked of what was written down. */
  private byte[] asking(byte[] content) {
    ClassReader in = new ClassReader(content);
    boolean json = in.getClassName().startsWith(JSON);
    ClassWriter out = new ClassWriter(in, 0);
    in.accept(
        new ClassVisitor(ASM9, out) {
          @Override
          public MethodVisitor visitMethod(
              int access, String name, String descriptor, String signature, String[] thrown) {
            MethodVisitor method = super.visitMethod(access, name, descriptor, signature, thrown);
            return json && !name.equals("isJacksonStdImpl") ? method : new Asking(method);
          }
        },
        0);
    return out.toByteArray();
  }

  /** Turns the questions of one method round. */
  private final class Asking extends MethodVisitor {
    Asking(MethodVisitor out) {
      super(ASM9, out);
    }

    @Override
    public void visitMethodInsn(
        int code, String owner, String name, String descriptor, boolean ofInterface) {
      String turn = owner.equals(FIELD) ? WAYS.get(name) : null;
      if (turn == null && ASKED.contains(owner)) {
        turn = QUESTIONS.get(name);
      }
      if (turn == null) {
        super.visitMethodInsn(code, owner, name, descriptor, ofInterface);
        return;
      }
      turned.incrementAndGet();
      String on = WAYS.containsKey(name) ? FIELD : "java/lang/reflect/AnnotatedElement";
      super.visitMethodInsn(
          Opcodes.INVOKESTATIC, NOTED, turn, "(L" + on + ";" + descriptor.substring(1), false);
    }
  }

  /** A class whose fields its notes can reach: what was its own is its package's. */
  private static byte[] open(byte[] content) {
    ClassReader in = new ClassReader(content);
    ClassWriter out = new ClassWriter(in, 0);
    in.accept(
        new ClassVisitor(ASM9, out) {
          @Override
          public FieldVisitor visitField(
              int access, String name, String descriptor, String signature, Object value) {
            return super.visitField(access & ~ACC_PRIVATE, name, descriptor, signature, value);
          }
        },
        0);
    return out.toByteArray();
  }

  /** The table of all classes of which something was written down. */
  private byte[] table(byte[] content) {
    ClassReader in = new ClassReader(content);
    ClassWriter out = new ClassWriter(in, ClassWriter.COMPUTE_FRAMES | ClassWriter.COMPUTE_MAXS);
    in.accept(
        new ClassVisitor(ASM9, out) {
          @Override
          public MethodVisitor visitMethod(
              int access, String name, String descriptor, String signature, String[] thrown) {
            if (!name.equals("of")) {
              return super.visitMethod(access, name, descriptor, signature, thrown);
            }
            writeTable(out);
            return null;
          }
        },
        ClassReader.SKIP_FRAMES);
    return out.toByteArray();
  }

  private void writeTable(ClassVisitor out) {
    GeneratorAdapter of =
        new GeneratorAdapter(
            ACC_PRIVATE | ACC_STATIC,
            new org.objectweb.asm.commons.Method(
                "of", NOTES, new Type[] {Type.getType(Class.class)}),
            null,
            null,
            out);
    of.loadArg(0);
    of.invokeVirtual(Type.getType(Class.class), as("String getName ()"));
    int name = of.newLocal(TEXT);
    of.storeLocal(name);
    for (Map.Entry<Class<?>, Type> one : written.entrySet()) {
      Label next = of.newLabel();
      of.loadLocal(name);
      of.push(one.getKey().getName());
      of.invokeVirtual(TEXT, as("boolean equals (Object)"));
      of.ifZCmp(GeneratorAdapter.EQ, next);
      make(of, one.getValue());
      of.mark(next);
    }
    make(of, Type.getObjectType(NOTED + "$Nothing"));
    of.endMethod();
  }

  private static void make(GeneratorAdapter out, Type type) {
    out.newInstance(type);
    out.dup();
    out.invokeConstructor(type, as("void <init> ()"));
    out.returnValue();
  }

  // ---------------------------------------------------------------- held against Java's own

  private static void compare(Class<?> one, ClassLoader classes)
      throws ReflectiveOperationException {
    Method get =
        Class.forName(NOTED.replace('/', '.'), true, classes)
            .getMethod("annotation", AnnotatedElement.class, Class.class);
    List<AnnotatedElement> elements = new ArrayList<>(List.of(one.getDeclaredFields()));
    elements.addAll(List.of(one.getDeclaredMethods()));
    elements.add(one);
    for (AnnotatedElement element : elements) {
      for (Annotation right : of(element)) {
        Object note = get.invoke(null, element, right.annotationType());
        for (Method part : parts(right.annotationType())) {
          part.setAccessible(true);
          if (note == null || !same(part.invoke(note), part.invoke(right))) {
            throw new IllegalStateException(
                element + ": " + part.getName() + " of " + right + " was not written down right");
          }
        }
      }
    }
  }
}
