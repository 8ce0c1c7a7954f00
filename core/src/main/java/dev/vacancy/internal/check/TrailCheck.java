package dev.vacancy.internal.check;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.request.RowMarker;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.internal.request.WrittenRules.MarkerOfTable;
import dev.vacancy.internal.request.WrittenRules.SoftTable;
import dev.vacancy.rule.Finding;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;

/** Finds what will be missed years later: a deletion without a time, and a secret that should never have been kept. */
final class TrailCheck {
    private static final Pattern SECRET =
            Pattern.compile("(^|_)(password|passwd|pwd|secret|token|api_?key|pin|passphrase)(_hash|$)");

    private final DatabaseCatalog catalog;
    private final WrittenRules book;

    TrailCheck(DatabaseCatalog catalog, WrittenRules book) {
        this.catalog = catalog;
        this.book = book;
    }

    List<Finding> findings() {
        List<Finding> findings = new ArrayList<>();
        for (MarkerOfTable marked : book.markers()) {
            boolean timed = book.softTables().stream()
                    .filter(soft -> soft.table().equalsIgnoreCase(marked.table()))
                    .map(SoftTable::soft)
                    .anyMatch(soft -> soft.timeColumn().isPresent());
            if (marked.marker() instanceof RowMarker.Flag flag && !timed) {
                findings.add(new Finding(
                        Finding.Kind.FLAG,
                        marked.table() + "." + flag.column(),
                        "a flag says that a record is gone, but not since when: nobody can tell what was active on a day,"
                                + " and nothing can be purged when its time is up",
                        "mark by a timestamp, or name a column beside the flag that takes the time"));
            }
        }
        book.trail()
                .ifPresent(trail -> catalog.tables()
                        .forEach(table -> table.columns().stream()
                                .filter(column -> isSecret(table, column, trail.withheld()))
                                .forEach(column -> findings.add(new Finding(
                                        Finding.Kind.SECRET,
                                        table + "." + column,
                                        "by its name it holds a secret, which the audit trail would keep after the record is gone",
                                        "withhold it from the trail")))));
        return findings;
    }

    private static boolean isSecret(Table table, Column column, List<String> withheld) {
        return SECRET.matcher(column.name().toLowerCase(Locale.ROOT)).find()
                && withheld.stream().noneMatch((table + "." + column)::equalsIgnoreCase);
    }
}
