package dev.purser.service.board;

import java.lang.reflect.Field;
import java.lang.reflect.Modifier;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import org.hibernate.annotations.Formula;

/** The plain insert of an entity whose columns are its fields, for those that come by thousands. */
final class RowInsert {
  private final List<Field> fields;
  private final String text;

  RowInsert(Class<?> entity, String table) {
    fields =
        Arrays.stream(entity.getFields())
            .filter(field -> !Modifier.isStatic(field.getModifiers()))
            .filter(field -> !field.isAnnotationPresent(Formula.class))
            .toList();
    text =
        fields.stream()
                .map(field -> column(field.getName()))
                .collect(Collectors.joining(",", "insert into " + table + " (", ") values ("))
            + fields.stream().map(field -> "?").collect(Collectors.joining(","))
            + ")";
  }

  /** As Hibernate names it. */
  private static String column(String field) {
    return field.replaceAll("([A-Z])", "_$1").toLowerCase(Locale.ROOT);
  }

  void add(Bulk bulk, Object row) {
    Object[] values = new Object[fields.size()];
    for (int i = 0; i < values.length; i++) {
      try {
        values[i] = fields.get(i).get(row);
      } catch (IllegalAccessException e) {
        throw new IllegalStateException(e);
      }
    }
    bulk.add(text, values);
  }
}
