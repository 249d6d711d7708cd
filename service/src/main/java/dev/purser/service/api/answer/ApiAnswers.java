package dev.purser.service.api.answer;

import io.swagger.v3.oas.models.Components;
import io.swagger.v3.oas.models.Operation;
import io.swagger.v3.oas.models.PathItem;
import io.swagger.v3.oas.models.media.Content;
import io.swagger.v3.oas.models.media.IntegerSchema;
import io.swagger.v3.oas.models.media.MediaType;
import io.swagger.v3.oas.models.media.ObjectSchema;
import io.swagger.v3.oas.models.media.Schema;
import io.swagger.v3.oas.models.media.StringSchema;
import io.swagger.v3.oas.models.parameters.Parameter;
import io.swagger.v3.oas.models.responses.ApiResponse;
import io.swagger.v3.oas.models.security.SecurityRequirement;
import io.swagger.v3.oas.models.security.SecurityScheme;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.springdoc.core.customizers.OpenApiCustomizer;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/**
 * What the OpenAPI document says of signing in and of refusals, the same for every operation: a
 * client that is made from it knows both.
 */
@Configuration
class ApiAnswers {
  private static final String TOKEN = "token";
  private static final String SESSION = "session";
  private static final String PROBLEM = "Problem";

  /** Asked by whoever has not signed in yet. */
  private static final Set<String> OPEN = Set.of("/agent/v1/enrol");

  @Bean
  OpenApiCustomizer answers() {
    return api -> {
      describe(api.getComponents());
      api.setSecurity(
          List.of(
              new SecurityRequirement().addList(TOKEN),
              new SecurityRequirement().addList(SESSION)));
      api.getPaths().forEach(ApiAnswers::describe);
    };
  }

  private static void describe(Components components) {
    components.addSecuritySchemes(
        TOKEN,
        new SecurityScheme()
            .type(SecurityScheme.Type.HTTP)
            .scheme("bearer")
            .description("A token, as purser login gets it."));
    components.addSecuritySchemes(
        SESSION,
        new SecurityScheme()
            .type(SecurityScheme.Type.APIKEY)
            .in(SecurityScheme.In.COOKIE)
            .name("JSESSIONID")
            .description("A session of the console; changes need the X-XSRF-TOKEN header too."));
    Schema<?> problem =
        new ObjectSchema()
            .description("Why something was refused (RFC 9457).")
            .addProperty("title", new StringSchema().description("What kind of refusal it is."))
            .addProperty("status", new IntegerSchema().description("The HTTP status."))
            .addProperty("detail", new StringSchema().description("What is wrong, for people."))
            .addProperty("instance", new StringSchema().description("The path that was asked."));
    components.addSchemas(PROBLEM, problem);
  }

  private static void describe(String path, PathItem item) {
    Map<PathItem.HttpMethod, Operation> operations = item.readOperationsMap();
    operations.forEach((method, operation) -> describe(path, method, operation));
  }

  private static void describe(String path, PathItem.HttpMethod method, Operation operation) {
    boolean signsIn = path.equals("/api/v1/session") && method == PathItem.HttpMethod.POST;
    boolean isOpen = OPEN.contains(path) || signsIn;
    if (isOpen) {
      operation.setSecurity(List.of());
    }
    List<Parameter> parameters =
        operation.getParameters() == null ? List.of() : operation.getParameters();
    boolean asks = !parameters.isEmpty() || operation.getRequestBody() != null;
    boolean changes = method != PathItem.HttpMethod.GET;
    add(
        operation,
        asks || isOpen,
        "400",
        "It cannot be understood; the detail says what is right.");
    add(operation, !isOpen || signsIn, "401", "Nobody is signed in, or with a wrong password.");
    add(operation, !isOpen && changes, "403", "This person may not do that.");
    add(
        operation,
        parameters.stream().anyMatch(one -> "path".equals(one.getIn())),
        "404",
        "It is not there.");
    add(operation, changes && !isOpen, "409", "It makes no sense now; nothing was done.");
    boolean guarded = parameters.stream().anyMatch(one -> "If-Match".equals(one.getName()));
    add(operation, guarded, "412", "It was changed meanwhile; nothing was done.");
    add(operation, signsIn, "429", "Too many failed tries; Retry-After says how long to wait.");
    add(operation, changes, "503", "Not now: the database is away, or this service stands by.");
  }

  private static void add(Operation operation, boolean applies, String status, String text) {
    if (applies && !operation.getResponses().containsKey(status)) {
      MediaType problem =
          new MediaType().schema(new Schema<>().$ref("#/components/schemas/" + PROBLEM));
      operation
          .getResponses()
          .addApiResponse(
              status,
              new ApiResponse()
                  .description(text)
                  .content(new Content().addMediaType("application/problem+json", problem)));
    }
  }
}
