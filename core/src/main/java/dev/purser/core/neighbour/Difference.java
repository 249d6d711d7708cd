package dev.purser.core.neighbour;

import dev.purser.core.definition.Named;
import dev.purser.core.preview.FieldChanges;
import java.util.List;
import java.util.Optional;

/**
 * A definition that is not the same on both sides.
 *
 * @param here empty where there is none
 * @param there empty where there is none
 * @param fields what bringing it here would change, field by field; empty where one side has none
 */
public record Difference(
    Named what,
    Standing standing,
    Optional<Side> here,
    Optional<Side> there,
    List<FieldChanges.Field> fields) {}
