package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SqlCondition;
import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.rules.Rules;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Gives records that are there back what stood in some of their columns. */
final class RestoredColumns {
    private final Rules rules;
    private final Dialect dialect;
    private final ProvenChanges changes;

    RestoredColumns(Rules rules, Dialect dialect, ProvenChanges changes) {
        this.rules = rules;
        this.dialect = dialect;
        this.changes = changes;
    }

    /** Gives back what stood in some columns; records that had the same there get it together. */
    void put(Table table, List<Column> columns, List<RestorableRow> rows) {
        Map<List<Object>, List<RestorableRow>> alike = new LinkedHashMap<>();
        rows.forEach(row -> alike.computeIfAbsent(row.values(columns), missing -> new ArrayList<>())
                .add(row));
        int values = table.identity().size();
        try {
            for (Map.Entry<List<Object>, List<RestorableRow>> same : alike.entrySet()) {
                changes.change(
                        table, same.getValue(), values, columns, these -> update(table, columns, same.getKey(), these));
            }
        } catch (SQLException refused) {
            throw changes.failed("put back " + table + " " + rows.get(0).entry().keyText(), refused);
        }
    }

    private Fragment update(Table table, List<Column> columns, List<Object> values, List<RestorableRow> rows) {
        List<String> assignments = new ArrayList<>();
        List<Binding> bindings = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            Object value = values.get(i);
            Fragment made = value == null
                    ? Fragment.of("null")
                    : dialect.codec(columns.get(i)).fromImage(value);
            assignments.add(dialect.quote(columns.get(i).storedName()) + " = " + made.sql());
            bindings.addAll(made.bindings());
        }
        Optional.ofNullable(rules.softness().versions().get(table))
                .map(version -> dialect.quote(version.storedName()))
                .ifPresent(version -> assignments.add(version + " = coalesce(" + version + ", 0) + 1"));
        Fragment set = new Fragment(
                "update " + dialect.name(table) + " set " + String.join(", ", assignments) + " where ", bindings);
        return set.then(dialect.pictured(
                dialect.names(table.identity()),
                table.identity().stream().map(ColumnType::of).toList(),
                rows.stream().map(row -> row.values(table.identity())).toList()));
    }

    /** Removes the rows by which records were closed. */
    void reopen(Table table, LatestRow latest, List<RestorableRow> rows) {
        for (RestorableRow row : rows) {
            String record = row.entry().keyText();
            Condition closing = Closings.appended(table, latest, row);
            Fragment deletion = dialect.delete(
                    dialect.name(table),
                    Statements.alias(),
                    dialect.names(Statements.alias(), table.identity()),
                    SqlCondition.alternatives(closing, dialect),
                    1);
            try {
                int removed = changes.execute(deletion);
                if (removed != 1) {
                    throw new SQLException(removed + " records have the key " + record);
                }
            } catch (SQLException refused) {
                throw changes.failed("open " + table + " " + record + " again", refused);
            }
        }
    }
}
