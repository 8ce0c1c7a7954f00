package dev.vacancy.internal.rules;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.request.WrittenRules.FollowUpOfTable;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Reads what follows outside of the database, as far as the trail tells it. */
final class FollowUpReader {
    private final DatabaseCatalog catalog;
    private final Map<Table, Set<Column>> withheld;
    private final boolean recorded;
    private final List<FollowUpRule> rules = new ArrayList<>();

    FollowUpReader(DatabaseCatalog catalog, Map<Table, Set<Column>> withheld, boolean recorded) {
        this.catalog = catalog;
        this.withheld = withheld;
        this.recorded = recorded;
    }

    List<FollowUpRule> rules() {
        return rules;
    }

    void read(FollowUpOfTable given) {
        Table table = catalog.table(given.table());
        String name = given.followUp().name();
        List<Column> columns =
                given.followUp().columnNames().stream().map(table::column).toList();
        if (!recorded) {
            throw refusal(name, table, "it follows what the audit trail tells, and none is kept", "Keep a trail");
        }
        for (Column column : columns) {
            if (column.generated() || withheld.getOrDefault(table, Set.of()).contains(column)) {
                throw refusal(name, table, "the trail doesn't keep " + table + "." + column, "Hand over other columns");
            }
        }
        if (rules.stream()
                .anyMatch(rule -> rule.table().equals(table) && rule.name().equals(name))) {
            throw refusal(name, table, "there are two of this name for " + table.name(), "Give one another name");
        }
        rules.add(new FollowUpRule(name, table, columns));
    }

    private static InvalidRequestException refusal(String name, Table table, String why, String remedy) {
        return new InvalidRequestException(
                FailureCode.RULES, "'" + name + "' can't follow " + table.name() + ": " + why + ".", remedy + ".");
    }
}
