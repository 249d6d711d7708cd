package dev.purser.service.api.answer;

import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.info.Info;
import io.swagger.v3.oas.models.info.License;
import io.swagger.v3.oas.models.media.Schema;
import java.util.Map;
import java.util.Set;
import org.springdoc.core.customizers.OpenApiCustomizer;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** What the OpenAPI document says of itself. */
@Configuration
class ApiTitle {
  private static final Set<String> MAY_BE_MISSING =
      Set.of(
          "exitCode",
          "chanceLate",
          "clockDifferenceMillis",
          "knownTo",
          "until",
          "pause",
          "made",
          "holds",
          "goesLive",
          "DraftView.liveFrom",
          "OnItsWayView.liveFrom",
          "DifferenceView.atHere",
          "DifferenceView.atThere",
          "standard",
          "CapacityView.set",
          "NodeView.run",
          "NodeView.place",
          "DraftView.asked",
          "SourceView.looked",
          "DraftView.agreed",
          "Units.units");

  /** Instants and a few numbers are left out where there is none; all else is always there. */
  @Bean
  OpenApiCustomizer required() {
    return api -> api.getComponents().getSchemas().forEach(ApiTitle::require);
  }

  @SuppressWarnings("unchecked")
  private static void require(String schemaName, Schema<?> schema) {
    boolean asked = schemaName.equals("ChangeRequest") || schemaName.equals("StartRequest");
    if (schema.getProperties() == null || asked || schemaName.equals("ActionRequest")) {
      return;
    }
    Map<String, Schema<?>> properties = (Map<String, Schema<?>>) (Map<?, ?>) schema.getProperties();
    properties.forEach(
        (name, value) -> {
          if (!"date-time".equals(value.getFormat())
              && !MAY_BE_MISSING.contains(name)
              && !MAY_BE_MISSING.contains(schemaName + "." + name)) {
            schema.addRequiredItem(name);
          }
        });
  }

  @Bean
  OpenAPI openApi() {
    return new OpenAPI()
        .info(
            new Info()
                .title("Purser API")
                .version("1")
                .description("Keeps an enterprise's batch work on time, and explains itself.")
                .license(new License().name("Apache-2.0").identifier("Apache-2.0")));
  }
}
