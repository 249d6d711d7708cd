package dev.purser.client.build;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Map;
import java.util.Set;
import org.objectweb.asm.ClassReader;
import org.objectweb.asm.ClassVisitor;
import org.objectweb.asm.ClassWriter;
import org.objectweb.asm.MethodVisitor;
import org.objectweb.asm.Opcodes;

/**
 * A step of the build: the library for JSON makes the limits of decimal numbers when it needs one
 * ({@code dev.purser.client.Limits}), and not whenever it is loaded.
 */
public final class LateLimits {
  private static final String LIBRARY = "tools/jackson/";
  private static final String HOLDER = "tools/jackson/core/base/ParserMinimalBase";
  private static final String DECIMAL = "java/math/BigDecimal";
  private static final Set<String> NAMES =
      Set.of("BD_MIN_INT", "BD_MAX_INT", "BD_MIN_LONG", "BD_MAX_LONG");

  private int asked;
  private int left;

  private LateLimits() {}

  /** Changes the jar that is named. */
  public static void main(String[] args) throws IOException {
    LateLimits step = new LateLimits();
    JarStep.rewrite(
        Path.of(args[0]),
        (name, content) ->
            name.startsWith(LIBRARY) && name.endsWith(".class") ? step.late(content) : content,
        Map.of());
    if (step.asked == 0 || step.left != NAMES.size()) {
      throw new IllegalStateException("the library for JSON keeps its limits otherwise");
    }
  }

  private byte[] late(byte[] content) {
    ClassReader in = new ClassReader(content);
    ClassWriter out = new ClassWriter(in, 0);
    boolean holder = in.getClassName().equals(HOLDER);
    in.accept(
        new ClassVisitor(Opcodes.ASM9, out) {
          @Override
          public MethodVisitor visitMethod(
              int access, String name, String descriptor, String signature, String[] thrown) {
            MethodVisitor method = super.visitMethod(access, name, descriptor, signature, thrown);
            return holder && name.equals("<clinit>") ? new Start(method) : new Asking(method);
          }
        },
        0);
    return out.toByteArray();
  }

  /** What needs a limit asks for it. */
  private final class Asking extends MethodVisitor {
    Asking(MethodVisitor out) {
      super(Opcodes.ASM9, out);
    }

    @Override
    public void visitFieldInsn(int code, String owner, String name, String descriptor) {
      if (code == Opcodes.GETSTATIC && NAMES.contains(name)) {
        asked++;
        super.visitLdcInsn(name);
        super.visitMethodInsn(
            Opcodes.INVOKESTATIC,
            "dev/purser/client/Limits",
            "of",
            "(Ljava/lang/String;)L" + DECIMAL + ";",
            false);
      } else {
        super.visitFieldInsn(code, owner, name, descriptor);
      }
    }
  }

  /** Makes no limit: what one would be made of is put aside. */
  private final class Start extends MethodVisitor {
    private boolean made;

    Start(MethodVisitor out) {
      super(Opcodes.ASM9, out);
    }

    @Override
    public void visitTypeInsn(int code, String type) {
      made = code == Opcodes.NEW && type.equals(DECIMAL);
      if (!made) {
        super.visitTypeInsn(code, type);
      }
    }

    @Override
    public void visitInsn(int code) {
      if (made && code == Opcodes.DUP) {
        made = false;
      } else {
        super.visitInsn(code);
      }
    }

    @Override
    public void visitMethodInsn(
        int code, String owner, String name, String descriptor, boolean ofInterface) {
      if (!owner.equals(DECIMAL)) {
        super.visitMethodInsn(code, owner, name, descriptor, ofInterface);
      }
    }

    @Override
    public void visitFieldInsn(int code, String owner, String name, String descriptor) {
      if (code == Opcodes.PUTSTATIC && NAMES.contains(name)) {
        left++;
        super.visitInsn(Opcodes.POP);
      } else {
        super.visitFieldInsn(code, owner, name, descriptor);
      }
    }
  }
}
