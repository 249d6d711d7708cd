package dev.purser.service.api.answer;

import dev.purser.core.problem.NotUnderstood;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.core.convert.converter.Converter;
import org.springframework.format.FormatterRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;
import tools.jackson.core.JsonParser;
import tools.jackson.databind.DeserializationContext;
import tools.jackson.databind.JacksonModule;
import tools.jackson.databind.deser.std.StdDeserializer;
import tools.jackson.databind.module.SimpleModule;

/** Dates and times as they may be given: of 1970 to 9999, which is what can be kept on record. */
@Configuration
class Dates implements WebMvcConfigurer {
  private static final int FIRST_YEAR = 1970;
  private static final int LAST_YEAR = 9999;

  /**
   * A date.
   *
   * @return null for an empty text, which says nothing
   * @throws NotUnderstood where it is none, or not of these years
   */
  static LocalDate date(String text) {
    if (text.isBlank()) {
      return null;
    }
    try {
      LocalDate date = LocalDate.parse(text);
      if (date.getYear() >= FIRST_YEAR && date.getYear() <= LAST_YEAR) {
        return date;
      }
    } catch (DateTimeException e) {
      // it is said below
    }
    throw new NotUnderstood("\"" + text + "\" is not a date such as 2027-03-04, of 1970 to 9999");
  }

  /**
   * A time with its offset.
   *
   * @return null for an empty text, which says nothing
   * @throws NotUnderstood where it is none, or not of these years
   */
  static Instant time(String text) {
    if (text.isBlank()) {
      return null;
    }
    try {
      OffsetDateTime time = OffsetDateTime.parse(text);
      if (time.getYear() >= FIRST_YEAR && time.getYear() <= LAST_YEAR) {
        return time.toInstant();
      }
    } catch (DateTimeException e) {
      // it is said below
    }
    throw new NotUnderstood(
        "\"" + text + "\" is not a time such as 2027-03-04T21:30:00Z, of 1970 to 9999");
  }

  /** In an address. */
  @Override
  public void addFormatters(FormatterRegistry registry) {
    registry.addConverter(
        String.class, LocalDate.class, (Converter<String, LocalDate>) Dates::date);
    registry.addConverter(String.class, Instant.class, (Converter<String, Instant>) Dates::time);
  }

  /** In a body. */
  @Bean
  JacksonModule datesInBodies() {
    return new SimpleModule("dates of the API")
        .addDeserializer(LocalDate.class, new OfText<>(LocalDate.class, Dates::date))
        .addDeserializer(Instant.class, new OfText<>(Instant.class, Dates::time));
  }

  private static final class OfText<T> extends StdDeserializer<T> {
    private final Converter<String, T> converter;

    OfText(Class<T> type, Converter<String, T> converter) {
      super(type);
      this.converter = converter;
    }

    @Override
    public T deserialize(JsonParser parser, DeserializationContext context) {
      return converter.convert(parser.getValueAsString(""));
    }
  }
}
