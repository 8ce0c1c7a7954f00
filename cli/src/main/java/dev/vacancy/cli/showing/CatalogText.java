package dev.vacancy.cli.showing;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.cli.terminal.Paint;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.request.LinkWords;
import dev.vacancy.internal.rules.LinkRule;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.rule.Rule;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Writes the catalog for people: each table, and below it what becomes of its children when one of its records goes. */
public final class CatalogText {
    private final Rules rules;
    private final Paint paint;
    private final List<Line> lines = new ArrayList<>();

    private CatalogText(Rules rules, Paint paint) {
        this.paint = paint;
        this.rules = rules;
    }

    public static String of(Rules rules, Paint paint) {
        Catalog catalog = rules.catalog();
        CatalogText text = new CatalogText(rules, paint);
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
        lines.add(new Line(table.name(), key(table), Optional.empty(), marker));
        for (int i = 0; i < links.size(); i++) {
            add(links.get(i), i == links.size() - 1);
        }
    }

    private void add(Link link, boolean last) {
        String branch = (last ? "└─ " : "├─ ") + link.where();
        for (LinkRule clause : rules.of(link)) {
            String when =
                    clause.criteria().map(criteria -> "if " + criteria + ": ").orElse("");
            lines.add(new Line(
                    branch,
                    clause.rule().effect(),
                    Optional.of(clause.rule()),
                    when + clause.reason() + remarks(link)));
            branch = last ? "" : "│";
        }
    }

    private static String remarks(Link link) {
        if (LinkWords.isOfDocuments(link)) {
            return link.indexed() ? "" : "; no index on this field";
        }
        return (CatalogLink.of(link).enforced() ? "" : unenforced(link))
                + (link.indexed() ? "" : "; no index on this foreign key");
    }

    private static String unenforced(Link link) {
        return link.declared() ? "; not enforced by the database" : "; not declared in the database";
    }

    private static String key(Table table) {
        return table.identity().isEmpty()
                ? "no key"
                : table.identity().stream().map(Column::name).collect(Collectors.joining(", ", "key ", ""));
    }

    /** One line: what it is about, what becomes of it by which rule, and why. */
    private record Line(String name, String what, Optional<Rule> rule, String why) {}

    private String aligned() {
        int name = width(Line::name);
        int what = width(Line::what);
        return lines.stream()
                .map(line -> padded(line.name, name) + "  " + painted(line, what) + "  " + line.why)
                .map(String::stripTrailing)
                .collect(Collectors.joining(System.lineSeparator()));
    }

    /** Colours are put in last: they take no room on the screen. */
    private String painted(Line line, int width) {
        String blanks = " ".repeat(width - line.what.length());
        return line.rule.map(rule -> paint.effect(rule, line.what)).orElse(line.what) + blanks;
    }

    private static String padded(String text, int width) {
        return text + " ".repeat(width - text.length());
    }

    private int width(Function<Line, String> part) {
        return lines.stream().map(part).mapToInt(String::length).max().orElse(1);
    }
}
