package dev.purser.service.api.answer;

import java.time.Duration;
import org.springframework.context.annotation.Configuration;
import org.springframework.core.io.ClassPathResource;
import org.springframework.core.io.Resource;
import org.springframework.http.CacheControl;
import org.springframework.web.servlet.config.annotation.ResourceHandlerRegistry;
import org.springframework.web.servlet.config.annotation.ViewControllerRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;
import org.springframework.web.servlet.resource.PathResourceResolver;

/** Serves the console: its files, and its one page for every address of its own. */
@Configuration
class ConsoleFiles implements WebMvcConfigurer {
  private static final String HOME = "/console/";

  @Override
  public void addViewControllers(ViewControllerRegistry registry) {
    registry.addViewController("/").setViewName("forward:/index.html");
  }

  @Override
  public void addResourceHandlers(ResourceHandlerRegistry registry) {
    registry
        .addResourceHandler("/assets/**")
        .addResourceLocations("classpath:" + HOME + "assets/")
        .setCacheControl(CacheControl.maxAge(Duration.ofDays(365)).cachePublic().immutable());
    registry
        .addResourceHandler("/**")
        .addResourceLocations("classpath:" + HOME)
        .setCacheControl(CacheControl.noCache())
        .resourceChain(true)
        .addResolver(new OnePage());
  }

  /** Any address that is no file and no part of the API is the console's one page. */
  private static final class OnePage extends PathResourceResolver {
    @Override
    protected Resource getResource(String path, Resource location) {
      Resource file = new ClassPathResource(HOME + path);
      boolean isFile = !path.isEmpty() && !path.endsWith("/") && file.isReadable();
      boolean isApi =
          path.startsWith("api/") || path.startsWith("actuator") || path.startsWith("agent/");
      if (isFile || isApi) {
        return isFile ? file : null;
      }
      Resource page = new ClassPathResource(HOME + "index.html");
      return page.isReadable() ? page : null;
    }
  }
}
