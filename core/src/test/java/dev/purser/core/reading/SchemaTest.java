package dev.purser.core.reading;

import static org.assertj.core.api.Assertions.assertThat;

import com.networknt.schema.InputFormat;
import com.networknt.schema.Schema;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.snakeyaml.engine.v2.api.Dump;
import org.snakeyaml.engine.v2.api.DumpSettings;
import org.snakeyaml.engine.v2.common.FlowStyle;

class SchemaTest {
  private static final Path PUBLISHED = Path.of("../docs/purser.schema.json");
  private static final Schema SCHEMA =
      SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12)
          .getSchema(written(), InputFormat.YAML);

  /** A flow-style YAML dump with quoted scalars is JSON. */
  private static String written() {
    DumpSettings settings = DumpSettings.builder().setDefaultFlowStyle(FlowStyle.BLOCK).build();
    return new Dump(settings).dumpToString(SchemaWriter.schema());
  }

  @Test
  void everyDefinitionOfTheDemoWorldFitsTheSchemaAsItFitsTheParser() throws IOException {
    try (var files = Files.walk(Path.of("../demo"))) {
      List<Path> all = files.filter(file -> file.toString().matches(".*\\.(yaml|csv)")).toList();
      List<SourceFile> sources = new ArrayList<>();
      for (Path file : all) {
        sources.add(new SourceFile(file.toString(), Files.readString(file)));
      }
      assertThat(all).isNotEmpty();
      DefinitionReader.Reading reading =
          FromTemplates.filled(DefinitionReader.read(sources), Definitions.none());
      assertThat(reading.problems()).isEmpty();
      for (Document document : reading.documents()) {
        assertThat(SCHEMA.validate(document.text(), InputFormat.YAML))
            .as(document.name())
            .isEmpty();
      }
    }
  }

  @Test
  void theSchemaRefusesAnUnknownKeyAndAMissingOne() {
    assertThat(SCHEMA.validate("stream: a\nfoo: 1\njobs: {}\n", InputFormat.YAML)).isNotEmpty();
    assertThat(SCHEMA.validate("stream: a\n", InputFormat.YAML)).isNotEmpty();
    assertThat(SCHEMA.validate("capacity: a\nunits: 2\n", InputFormat.YAML)).isEmpty();
  }

  @Test
  void thePublishedSchemaIsTheOneThatTheParserHas() throws IOException {
    var published =
        new org.snakeyaml.engine.v2.api.Load(
                org.snakeyaml.engine.v2.api.LoadSettings.builder().build())
            .loadFromString(Files.readString(PUBLISHED));
    assertThat(published).isEqualTo(SchemaWriter.schema());
  }
}
