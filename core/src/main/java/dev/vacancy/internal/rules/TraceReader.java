package dev.vacancy.internal.rules;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.request.GivenClause;
import dev.vacancy.internal.request.WrittenRules.TraceOfTable;
import dev.vacancy.internal.rules.PersonTrace.TextPlace;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Rule;
import dev.vacancy.rule.TraceRule;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiFunction;

/** Reads what is known of persons, and what an erasure does with it. */
final class TraceReader {
    private final DatabaseCatalog catalog;
    private final BiFunction<Clause, Link, LinkRule> checking;
    private final Map<Table, PersonTrace> traces = new LinkedHashMap<>();

    /**
     * Reads nothing yet.
     *
     * @param checking makes a clause on a link of the catalog, as for any deletion
     */
    TraceReader(DatabaseCatalog catalog, BiFunction<Clause, Link, LinkRule> checking) {
        this.catalog = catalog;
        this.checking = checking;
    }

    Map<Table, PersonTrace> traces() {
        return traces;
    }

    void read(TraceOfTable given) {
        Table table = catalog.table(given.table());
        CatalogTable.of(table).requireIdentity();
        TraceRule rule = given.trace();
        if (traces.containsKey(table)) {
            throw refusal("what is known by a record of " + table.name() + " is said twice", "Leave one of them out");
        }
        List<TextPlace> places = new ArrayList<>();
        rule.places().forEach((place, kept) -> places.add(place(place, kept)));
        Map<Link, List<LinkRule>> clauses = new LinkedHashMap<>();
        rule.clauses()
                .forEach((link, written) ->
                        clauses.put(catalog.link(link), clauses(catalog.link(link), written, given)));
        traces.put(
                table,
                new PersonTrace(
                        table,
                        rule.knownByColumns().stream()
                                .map(name -> ofText(table, table.column(name)))
                                .toList(),
                        places,
                        clauses,
                        rule.keptRecord(),
                        masked(table, rule)));
    }

    private TextPlace place(String given, Optional<String> kept) {
        Place place = Place.of(given, catalog);
        CatalogTable.of(place.table()).requireIdentity();
        if (place.columns().size() != 1) {
            throw refusal("'" + given + "' is several columns", "Name each by itself");
        }
        Column column = ofText(place.table(), place.columns().get(0));
        if (kept.isEmpty()) {
            refuseUnwritable(place.table(), column);
        }
        return new TextPlace(place.table(), column, kept);
    }

    private static Column ofText(Table table, Column column) {
        ColumnType type = ColumnType.of(column);
        if (!type.isText() && !type.isLargeText()) {
            throw refusal(table + "." + column + " is " + type + ", which isn't text", "Name columns of text only");
        }
        return column;
    }

    private static void refuseUnwritable(Table table, Column column) {
        if (column.generated() || table.identity().contains(column)) {
            throw refusal(
                    table + "." + column + " can't be masked: "
                            + (column.generated() ? "the database works it out" : "it is part of the key"),
                    "Leave it out, or say why it is kept");
        }
    }

    /** What stays may keep what points at it, whether the database enforces that or not. */
    private List<LinkRule> clauses(Link link, List<Clause> written, TraceOfTable given) {
        boolean parentStays =
                given.trace().keptRecord().isPresent() && link.parent().equals(catalog.table(given.table()));
        List<LinkRule> clauses = new ArrayList<>();
        for (Clause clause : written) {
            if (clause.rule() == Rule.PART_OF) {
                throw refusal("part of on " + link.where() + " is a rule for any deletion", "Say it in the rules");
            }
            clauses.add(clause.rule() == Rule.KEEP && parentStays ? kept(clause, link) : checking.apply(clause, link));
        }
        return clauses;
    }

    /** Its criteria are as good as those of any other clause. */
    private LinkRule kept(Clause clause, Link link) {
        String reason = clause.reason().orElse("the rule says keep");
        LinkRule checked =
                checking.apply(new GivenClause(Rule.BLOCK, clause.criteria(), Optional.of(reason), List.of()), link);
        return new LinkRule(link, Rule.KEEP, checked.criteria(), reason, Optional.empty());
    }

    private static List<Column> masked(Table table, TraceRule rule) {
        List<Column> masked = rule.maskedColumns().stream().map(table::column).toList();
        if (rule.keptRecord().isPresent() && masked.isEmpty()) {
            throw refusal(
                    "a record of " + table + " stays as it is, so that nothing of the person is erased",
                    "Name the columns of it that are masked");
        }
        for (Column column : masked) {
            refuseUnwritable(table, column);
            if (!column.nullable() && !ColumnType.of(column).isText()) {
                throw refusal(
                        table + "." + column + " can't be masked: it is " + ColumnType.of(column)
                                + " and may not be null",
                        "Leave it out, or let the column be null");
            }
        }
        return masked;
    }

    private static InvalidRequestException refusal(String problem, String remedy) {
        return new InvalidRequestException(FailureCode.RULES, problem + ".", remedy + ".");
    }
}
