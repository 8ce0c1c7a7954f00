package dev.vacancy.picture;

import dev.vacancy.Vacancy;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.engine.Engine;
import dev.vacancy.internal.rules.LinkRule;
import dev.vacancy.internal.rules.Rules;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** A picture of tables and links: an arrow leads from a parent to what hangs on it, and says what becomes of that. */
public final class MapPicture {
    private MapPicture() {}

    /**
     * Draws a catalog with its rules.
     *
     * @param vacancy the entry, whose catalog and rules are drawn
     * @return SVG
     */
    public static String of(Vacancy vacancy) {
        return of(Engine.rulesOf(vacancy));
    }

    /**
     * Draws what a deletion from one table can reach, and what that table hangs on.
     *
     * @param table the table's name
     * @param vacancy the entry, whose catalog and rules are drawn
     * @return SVG
     * @throws dev.vacancy.InvalidRequestException when there is no such table
     */
    public static String around(String table, Vacancy vacancy) {
        Rules rules = Engine.rulesOf(vacancy);
        return of(rules.around(vacancy.catalog().table(table)));
    }

    private static String of(Rules rules) {
        Catalog catalog = rules.catalog();
        Map<String, Diagram.Box> boxes = new LinkedHashMap<>();
        for (Table table : catalog.tables()) {
            String key = table.identity().isEmpty()
                    ? "no key"
                    : table.identity().stream().map(Column::name).collect(Collectors.joining(", "));
            boxes.put(table.name(), new Diagram.Box(table.name(), List.of(key), Tone.PLAIN));
        }
        List<Diagram.Line> lines = new ArrayList<>();
        for (Link link : catalog.links()) {
            lines.add(line(link, rules.of(link)));
        }
        String title = catalog.tables().size() + " tables, " + catalog.links().size()
                + " links: what becomes of the children when a parent goes (dashed: not declared in the database)";
        return Svg.of(new Diagram(title, boxes, lines));
    }

    private static Diagram.Line line(Link link, List<LinkRule> clauses) {
        String columns = link.childColumns().stream().map(Column::name).collect(Collectors.joining(", "));
        String words = clauses.stream()
                .map(clause -> clause.rule() + (clause.criteria().isPresent() ? " or" : ""))
                .collect(Collectors.joining(" "));
        return new Diagram.Line(
                link.parent().name(),
                link.child().name(),
                List.of(columns, words),
                Tone.of(clauses.get(0).rule()),
                !link.declared());
    }
}
