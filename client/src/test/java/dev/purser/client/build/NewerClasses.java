package dev.purser.client.build;

import java.io.IOException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Path;
import java.util.Map;
import org.objectweb.asm.ClassReader;
import org.objectweb.asm.ClassVisitor;
import org.objectweb.asm.ClassWriter;
import org.objectweb.asm.Opcodes;

/**
 * A step of the build: classes of a jar that are in the form of Java 5 get that of Java 8, with the
 * same code. Java keeps no older ones in its archives of classes, so that each start of the command
 * line would read and verify the library for commands anew, which takes as long as all the rest.
 */
public final class NewerClasses {
  private static final int OLDEST_KEPT = 50;

  private NewerClasses() {}

  /** Rewrites the jar that is named. */
  public static void main(String[] args) throws IOException {
    Path jar = Path.of(args[0]);
    try (URLClassLoader classes = new URLClassLoader(new URL[] {jar.toUri().toURL()})) {
      JarStep.rewrite(
          jar,
          (name, content) -> name.endsWith(".class") ? newer(content, classes) : content,
          Map.of());
    }
  }

  private static byte[] newer(byte[] content, ClassLoader classes) {
    int version = (content[6] & 255) << 8 | (content[7] & 255);
    if (version >= OLDEST_KEPT) {
      return content;
    }
    ClassWriter writer =
        new ClassWriter(ClassWriter.COMPUTE_FRAMES) {
          @Override
          protected ClassLoader getClassLoader() {
            return classes;
          }
        };
    new ClassReader(content)
        .accept(
            new ClassVisitor(Opcodes.ASM9, writer) {
              @Override
              public void visit(
                  int old, int access, String name, String signature, String above, String[] all) {
                super.visit(Opcodes.V1_8, access, name, signature, above, all);
              }
            },
            ClassReader.SKIP_FRAMES);
    return writer.toByteArray();
  }
}
