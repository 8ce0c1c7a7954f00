package dev.vacancy.internal.restoring;

import dev.vacancy.NotAsPlannedException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.failure.Deviations;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Image;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Holds what was written back against what the trail has: a trigger, a rule or a column that has become narrower may have made something
 * else of it, or nothing at all. Columns that never stand still by the rules aren't compared.
 */
final class RestoreComparison {
    private final Rules rules;
    private final CurrentRows standing;

    RestoreComparison(Rules rules, CurrentRows standing) {
        this.rules = rules;
        this.standing = standing;
    }

    /**
     * Looks at some records that have just been written.
     *
     * @param columns those that were written
     * @throws NotAsPlannedException when one of them isn't there, or holds something else
     */
    void require(Table table, List<RestorableRow> rows, List<Column> columns) throws SQLException {
        if (table.identity().isEmpty()) {
            return;
        }
        List<Column> compared =
                columns.stream().filter(column -> !isMoving(table, column)).toList();
        List<Column> read = new ArrayList<>(table.identity());
        compared.stream().filter(column -> !read.contains(column)).forEach(read::add);
        Condition same = new Condition.Pictured(
                table.identity(),
                rows.stream().map(row -> row.values(table.identity())).toList());
        Map<List<String>, Map<Column, Object>> there = new HashMap<>();
        for (Map<Column, Object> found : standing.images(table, read, same)) {
            there.put(standing.texts(table.identity(), found), found);
        }
        for (RestorableRow row : rows) {
            Map<Column, Object> found = there.get(standing.texts(table.identity(), row.image()));
            if (found == null) {
                throw Deviations.swallowed(table.name(), row.entry().keyText());
            }
            List<String> others = compared.stream()
                    .filter(column ->
                            !text(found.get(column)).equals(text(row.image().get(column))))
                    .map(Column::name)
                    .toList();
            if (!others.isEmpty()) {
                throw Deviations.otherwise(table.name(), row.entry().keyText(), others);
            }
        }
    }

    private boolean isMoving(Table table, Column column) {
        Rules.Modified modified = rules.softness().modified().get(table);
        boolean stamp = modified != null
                && (modified.by().filter(column::equals).isPresent()
                        || modified.at().filter(column::equals).isPresent());
        return stamp
                || column.equals(rules.softness().versions().get(table))
                || rules.ignored().ignores(table, column);
    }

    /** As an image has it: numbers of several Java types are the same there. */
    private static String text(Object value) {
        return Image.writeList(Collections.singletonList(value));
    }
}
