package dev.purser.service.api;

import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.info.Info;
import io.swagger.v3.oas.models.info.License;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** What the OpenAPI document says of itself. */
@Configuration
class ApiTitle {
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
