package dev.purser.agent;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.wire.agent.FilesTalk;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A host's own files, asked for by somebody who wants more than the owner allows. */
class OwnFilesTest {
  @TempDir private Path folder;

  private final ExecutorService threads = Executors.newCachedThreadPool();
  private Path open;
  private Socket socket;
  private DataInputStream in;
  private DataOutputStream out;

  @BeforeEach
  void connect() throws IOException {
    open = Files.createDirectories(folder.resolve("open"));
    Files.createDirectories(open.resolve("below"));
    Files.writeString(folder.resolve("private"), "for nobody");
    Files.writeString(open.resolve("a.csv"), "one");
    Files.createSymbolicLink(open.resolve("link"), folder.resolve("private"));
    Files.createSymbolicLink(open.resolve("out"), folder);
    socket = new OwnFiles(List.of(open)).door(threads);
    in = new DataInputStream(socket.getInputStream());
    out = new DataOutputStream(socket.getOutputStream());
  }

  @AfterEach
  void close() throws IOException {
    socket.close();
    threads.shutdownNow();
  }

  private String ask(String word, String path) throws IOException {
    out.writeUTF(word);
    out.writeUTF(path.replace("@", folder.toString()).replace("NUL", "\0"));
    if (word.equals(FilesTalk.MOVE)) {
      out.writeUTF(folder.resolve("private") + "2");
    }
    if (word.equals(FilesTalk.WRITE)) {
      out.writeLong(0);
    }
    out.flush();
    byte answer = in.readByte();
    return answer == FilesTalk.GOOD ? "good" : answer + " " + in.readUTF();
  }

  @ParameterizedTest
  @CsvSource({
    "read, @/private, 1",
    "read, @/open/../private, 1",
    "read, @/open/below/../../private, 1",
    "read, @/open/link, 1",
    "read, @/open/out/private, 1",
    "read, @/open/.., 1",
    "read, a.csv, 1",
    "read, '', 1",
    "read, @/open/aNUL, 1",
    "read, @/open/nowhere, 1",
    "write, @/private, 1",
    "write, @/open/link, 1",
    "write, @/open/out/new, 1",
    "write, @/open/below, 1",
    "list, @, 1",
    "list, @/open/out, 1",
    "list, @/nowhere, 1",
    "look, @/private, 1",
    "move, @/open/a.csv, 1",
    "remove, @/private, 1",
    "remove, @/open/out/private, 1",
    "burn, @/open/a.csv, 1"
  })
  void nothingIsDoneOutsideOfWhatIsAllowed(String word, String path, String answer)
      throws IOException {
    assertThat(ask(word, path)).startsWith(answer + " ");
    assertThat(folder.resolve("private")).hasContent("for nobody");
    assertThat(open.resolve("a.csv")).hasContent("one");
    assertThat(folder.toFile().list()).containsExactlyInAnyOrder("open", "private");
    assertThat(ask("look", "@/open/a.csv")).isEqualTo("good"); // it goes on answering
  }

  @Test
  void aLinkThatLeadsOutIsShownAsOne() throws IOException {
    assertThat(ask(FilesTalk.LOOK, "@/open/link")).isEqualTo("good");
    assertThat(in.readBoolean()).isTrue();
    assertThat(in.readUTF()).isEqualTo("link");
    in.readLong();
    in.readLong();
    assertThat(in.readBoolean()).isTrue();
  }

  @Test
  void whereTheOwnerAllowsNothingThatIsSaid() {
    assertThat(new OwnFiles(List.of()).problem()).contains("--files");
    assertThat(new OwnFiles(List.of(open)).problem()).isEmpty();
  }
}
