package dev.vacancy.internal.planning;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.request.Comparison;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.RecordStore;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Sees to it that rows which follow each other stay in their order, and that none of the history comes to life. */
final class LatestRows {
    private final Rules rules;
    private final RecordStore store;
    private final Clock clock;

    LatestRows(Rules rules, RecordStore store, Clock clock) {
        this.rules = rules;
        this.store = store;
        this.clock = clock;
    }

    /** Refuses steps that can't be done, or would leave an older row as the latest. */
    void refuse(List<Step> steps) {
        Map<Table, List<Condition>> going = new LinkedHashMap<>();
        for (Step step : steps) {
            Optional<LatestRow> latest = rules.latestRow(step.table());
            if (latest.isPresent() && step instanceof Step.Mark mark) {
                refuseEarly(mark, latest.get());
            } else if (latest.isPresent()
                    && step instanceof Step.Delete
                    && !isOfWholeKeys(step.condition(), latest.get(), step.table())) {
                going.computeIfAbsent(step.table(), missing -> new ArrayList<>())
                        .add(step.condition());
            }
        }
        going.forEach((table, conditions) -> refuseRevival(
                table,
                Condition.anyOf(conditions).orElseThrow(),
                rules.latestRow(table).orElseThrow()));
    }

    /** Whether rows go by a link that all rows of a key share, so that none of them stays. */
    private static boolean isOfWholeKeys(Condition condition, LatestRow latest, Table table) {
        if (condition instanceof Condition.AnyOf any) {
            return any.parts().stream().allMatch(part -> isOfWholeKeys(part, latest, table));
        }
        Optional<Link> link = condition instanceof Condition.Referring referring
                ? Optional.of(referring.link())
                : condition instanceof Condition.OfParent parent
                        ? Optional.of(parent.link())
                        : condition instanceof Condition.OfManyParents parents
                                ? Optional.of(parents.link())
                                : Optional.empty();
        List<Column> key = latest.key().stream().map(table::column).toList();
        return link.filter(shared -> key.containsAll(shared.childColumns())).isPresent();
    }

    /** A row that begins today can't be closed today, where its start is a date. */
    private void refuseEarly(Step.Mark mark, LatestRow latest) {
        Table table = mark.table();
        Object now = latest.mark(table, clock.instant().atZone(clock.getZone()));
        Condition early = new Condition.Compares(table.column(latest.column()), Comparison.AT_LEAST, now);
        long count = store.count(table, new Condition.AllOf(List.of(mark.condition(), early)));
        if (count > 0) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    String.format(
                            Locale.ROOT,
                            "A row that closes a record of %s has to begin after it, and %,d begin%s at %s or later.",
                            table,
                            count,
                            count == 1 ? "s" : "",
                            now),
                    "Wait until it can be closed, or delete it for good.");
        }
    }

    private void refuseRevival(Table table, Condition going, LatestRow latest) {
        Condition staying = new Condition.Except(going);
        Condition open = Resolution.of(latest.open(table), table, rules.catalog(), clock);
        long count = store.count(
                table,
                new Condition.AllOf(List.of(
                        staying, open, later(table, latest, going), new Condition.Not(later(table, latest, staying)))));
        if (count > 0) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    String.format(
                            Locale.ROOT,
                            "%,d older %s of %s would become the latest of %s key, and hold again, if only the later go for"
                                    + " good.",
                            count,
                            count == 1 ? "row" : "rows",
                            table,
                            count == 1 ? "its" : "their"),
                    "Delete all rows of the same " + String.join(", ", latest.key()) + ", or delete softly.");
        }
    }

    private static Condition later(Table table, LatestRow latest, Condition that) {
        return new Condition.Sibling(
                table,
                latest.key().stream().map(table::column).toList(),
                Optional.of(table.column(latest.column())),
                Optional.of(that));
    }
}
