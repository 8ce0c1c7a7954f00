package dev.vacancy.internal.dialect;

import java.util.Optional;

/**
 * A column that the metadata of a driver leaves out, as only statements that name it see it.
 *
 * @param schema the schema of its table, as stored
 * @param table its table, as stored
 * @param name its name, as stored
 * @param place its place in the table, from 1
 * @param declaredDefault its default as the schema declares it, empty without one
 * @param generated whether the database computes it
 * @since 0.1
 */
public record InvisibleColumn(
        String schema, String table, String name, int place, Optional<String> declaredDefault, boolean generated) {}
