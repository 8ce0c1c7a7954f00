package dev.vacancy.cli;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.rule.LinkRule;
import dev.vacancy.rule.Rules;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/** Writes the catalog for people: each table, and below it what becomes of its children when one of its records goes. */
final class CatalogText {
    private final Rules rules;
    private final List<List<String>> lines = new ArrayList<>();

    private CatalogText(Rules rules) {
        this.rules = rules;
    }

    static String of(Rules rules) {
        Catalog catalog = rules.catalog();
        CatalogText text = new CatalogText(rules);
        for (Table table : catalog.tables()) {
            text.add(table, catalog.linksTo(table));
        }
        String heading = catalog.tables().size() + " tables, " + catalog.links().size()
                + " links. Below each table: what becomes of its children when one of its records goes.";
        return heading + System.lineSeparator() + System.lineSeparator() + text.aligned();
    }

    private void add(Table table, List<Link> links) {
        String marker =
                rules.active(table).map(active -> "active where " + active).orElse("");
        lines.add(List.of(table.name(), key(table), marker));
        for (int i = 0; i < links.size(); i++) {
            add(links.get(i), i == links.size() - 1);
        }
    }

    private void add(Link link, boolean last) {
        String branch = (last ? "└─ " : "├─ ") + link.where();
        for (LinkRule clause : rules.of(link)) {
            String when =
                    clause.criteria().map(criteria -> "if " + criteria + ": ").orElse("");
            lines.add(List.of(branch, clause.rule().effect(), when + clause.reason() + remarks(link)));
            branch = last ? "" : "│";
        }
    }

    private static String remarks(Link link) {
        return (link.declared() ? "" : "; not declared in the database")
                + (link.indexed() ? "" : "; no index on this foreign key");
    }

    private static String key(Table table) {
        return table.identity().isEmpty()
                ? "no key"
                : table.identity().stream().map(Column::name).collect(Collectors.joining(", ", "key ", ""));
    }

    private String aligned() {
        int first = width(0);
        int second = width(1);
        return lines.stream()
                .map(line -> String.format(
                                Locale.ROOT,
                                "%-" + first + "s  %-" + second + "s  %s",
                                line.get(0),
                                line.get(1),
                                line.get(2))
                        .stripTrailing())
                .collect(Collectors.joining(System.lineSeparator()));
    }

    private int width(int column) {
        return lines.stream().mapToInt(line -> line.get(column).length()).max().orElse(1);
    }
}
