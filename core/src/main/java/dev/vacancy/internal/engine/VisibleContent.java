package dev.vacancy.internal.engine;

import dev.vacancy.Blocker;
import dev.vacancy.By;
import dev.vacancy.Effect;
import dev.vacancy.Outcome;
import dev.vacancy.Permissions.Action;
import dev.vacancy.Plan;
import dev.vacancy.Sample;
import dev.vacancy.Skipped;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.internal.catalog.Label;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.internal.running.CompletedRun;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * What somebody may see of plans, outcomes, records and the trail: the rest is left out or only counted.
 *
 * @param acting who looks
 */
record VisibleContent(ActingUser acting) {
    /** The plan as far as it may be seen: what may not is counted only. */
    Plan seen(Plan plan) {
        return ((PlannedDeletion) plan)
                .showing(
                        plan.roots().stream().map(this::seen).toList(),
                        plan.effects().stream().map(this::seen).toList(),
                        seen(plan.blockers()),
                        plan.skipped().stream()
                                .map(skipped -> new Skipped(seen(skipped.root()), seen(skipped.blockers())))
                                .toList());
    }

    /** What happened, as far as it may be seen. */
    Outcome seen(Outcome outcome) {
        return ((CompletedRun) outcome)
                .showing(
                        outcome.deleted().stream().map(this::seen).toList(),
                        outcome.skipped().stream()
                                .map(skipped -> new Skipped(seen(skipped.root()), seen(skipped.blockers())))
                                .toList());
    }

    /** What of a record may be seen: all but withheld columns, or only its key. */
    RecordContent seen(RecordContent record) {
        String table = record.table().name();
        if (!acting.may(Action.SEE, table) || !acting.may(Action.SEE, record)) {
            return record.keyOnly();
        }
        return new RecordContent(
                record.table(),
                record.key(),
                record.label().filter(label -> !isLabelWithheld(record.table())),
                shown(table, record.keyOnly().values().keySet(), record.values()));
    }

    private Map<String, Object> shown(String table, Set<String> key, Map<String, Object> values) {
        Map<String, Object> shown = new LinkedHashMap<>(values);
        shown.keySet()
                .removeIf(
                        column -> !key.contains(column) && acting.permissions().withholds(acting.by(), table, column));
        return shown;
    }

    /** What of an entry may be seen; that it is there may be known. */
    TrailEntry seen(TrailEntry entry) {
        return new TrailEntry(
                entry.run(),
                entry.step(),
                entry.place(),
                entry.action(),
                entry.table(),
                entry.key(),
                entry.by(),
                entry.colleague(),
                entry.at(),
                entry.before().map(values -> shown(entry.table(), identity(entry.table()), values)),
                entry.after().map(values -> shown(entry.table(), identity(entry.table()), values)));
    }

    private Set<String> identity(String table) {
        return known(table).stream()
                .flatMap(known -> known.identity().stream())
                .map(Column::name)
                .collect(Collectors.toSet());
    }

    private Optional<Table> known(String table) {
        return acting.catalog().tables().stream()
                .filter(known -> known.name().equals(table))
                .findFirst();
    }

    /** The words of what somebody else has selected may tell of records or columns that nobody else is to know of. */
    String seen(String selection, String table, By whose) {
        boolean all = !acting.permissions().isOfRecords()
                && known(table).stream()
                        .noneMatch(
                                known -> known.columns().stream().anyMatch(column -> acting.isWithheld(known, column)));
        return all || whose.actor().equals(acting.by().actor()) ? selection : "records of " + table;
    }

    private boolean isLabelWithheld(Table table) {
        Label label = acting.catalog().label(table);
        List<Column> shown = label.columns().isEmpty() && table.identity().isEmpty()
                ? table.columns().subList(0, 1)
                : label.columns();
        return shown.stream().anyMatch(column -> acting.isWithheld(table, column));
    }

    /** A few records, of which a table without a key shows its label or first column only. */
    private List<Sample> seen(Table table, List<Sample> samples) {
        return isLabelWithheld(table)
                ? samples.stream()
                        .filter(sample -> sample.key().isPresent())
                        .map(sample -> new Sample(sample.key(), Optional.empty()))
                        .toList()
                : samples;
    }

    private Effect seen(Effect effect) {
        Table child = effect.link().child();
        return new Effect(
                effect.link(),
                effect.rule(),
                effect.newParent(),
                effect.count(),
                acting.may(Action.SEE, child.name()) ? seen(child, effect.samples()) : List.of());
    }

    private List<Blocker> seen(List<Blocker> blockers) {
        return blockers.stream()
                .map(blocker -> new Blocker(
                        blocker.link(),
                        blocker.reason(),
                        blocker.count(),
                        acting.may(Action.SEE, blocker.link().child().name())
                                ? blocker.children().stream().map(this::seen).toList()
                                : List.of()))
                .toList();
    }

    private Blocker.Child seen(Blocker.Child child) {
        List<Sample> seen = seen(child.table(), List.of(child.record()));
        Sample unnamed = new Sample(Optional.empty(), Optional.empty());
        return new Blocker.Child(child.table(), seen.isEmpty() ? unnamed : seen.get(0), child.way());
    }
}
