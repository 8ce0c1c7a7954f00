package dev.vacancy;

import dev.vacancy.Permissions.Act;
import dev.vacancy.audit.ErasurePlan;
import dev.vacancy.audit.RestorePlan;
import dev.vacancy.audit.TrailEntry;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Label;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Selection;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SelectedRecords;
import dev.vacancy.internal.gate.Permit;
import dev.vacancy.internal.planning.Onlooker;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.internal.running.RunOutcome;
import dev.vacancy.plan.Blocker;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Effect;
import dev.vacancy.plan.EmptyingPlan;
import dev.vacancy.plan.Plan;
import dev.vacancy.plan.Proposal;
import dev.vacancy.plan.Sample;
import dev.vacancy.plan.Skipped;
import dev.vacancy.run.Outcome;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Somebody who may do some things and not others.
 *
 * @param by who
 * @param permissions what they may do
 * @param catalog tells what records are called by
 */
record Acting(By by, Permissions permissions, Catalog catalog) implements Permit, Onlooker {
    boolean may(Act act, String table) {
        return permissions.may(by, act, table);
    }

    /** Whether they may do something with a record, whose table allows it. */
    boolean may(Act act, RecordContent record) {
        return permissions.may(by, act, record.table().name(), record.values());
    }

    void require(Act act, String table) {
        if (!may(act, table)) {
            throw forbidden(act, table.isEmpty() ? "the audit trail" : "records of " + table);
        }
    }

    private InvalidRequestException forbidden(Act act, String what) {
        return new InvalidRequestException(
                        FailureCode.FORBIDDEN,
                        by.actor() + " may not do that with " + what + ".",
                        "Ask somebody who may.")
                .about("act", act.name().toLowerCase(Locale.ROOT));
    }

    /** Refuses to do something with a certain record. */
    void require(Act act, String table, String key, Map<String, Object> values) {
        if (!permissions.may(by, act, table, values)) {
            throw forbidden(act, table + " " + key);
        }
    }

    @Override
    public void look(Selection selection, RecordContent record, boolean toRun) {
        String table = record.table().name();
        String key = record.key().text();
        require(toRun ? Act.DELETE : Act.PREVIEW, table, key, record.values());
        if (toRun && selection.isForGood()) {
            require(Act.DELETE_FOR_GOOD, table, key, record.values());
        }
    }

    /** Whether they may know what happened to a record, by the content that the trail has of it. */
    boolean mayKnow(TrailEntry entry) {
        return !permissions.isOfRecords()
                || content(entry)
                        .filter(values -> permissions.may(by, Act.HISTORY, entry.table(), values))
                        .isPresent();
    }

    /** Refuses what they may not do with the record that an entry is of. */
    void require(Act act, TrailEntry entry) {
        content(entry).ifPresent(values -> require(act, entry.table(), entry.key(), values));
    }

    private static Optional<Map<String, Object>> content(TrailEntry entry) {
        return entry.before().or(entry::after);
    }

    /** Nobody acts in the name of another. */
    void require(By other) {
        if (other == null || !other.actor().equals(by.actor()) || other.isProgram() != by.isProgram()) {
            throw new InvalidRequestException(
                    FailureCode.FORBIDDEN,
                    by.actor() + " may not act in the name of " + (other == null ? "nobody" : other.actor()) + ".",
                    "Plan and run for " + by.actor() + ".");
        }
    }

    /** What is planned under lock is asked about once more, whatever was planned before. */
    @Override
    public void require(Proposal plan) {
        require(plan.by());
        if (plan instanceof Plan deletion) {
            requireDeletion(deletion);
        } else if (plan instanceof EmptyingPlan emptying) {
            require(Act.DELETE_ALL, emptying.table().name());
        } else if (plan instanceof RestorePlan restore) {
            require(Act.RESTORE, restore.run().table());
        } else if (plan instanceof ErasurePlan erasure) {
            require(Act.DELETE_FOR_GOOD, erasure.table());
        }
    }

    /** Whether a record is picked tells what its parents hold. */
    void requireSight(SelectedRecords selected) {
        Condition condition = selected.picked().condition();
        condition.parentsAsked().forEach(parent -> require(Act.SEE, parent.name()));
        condition
                .asked(selected.table())
                .filter(asked -> isWithheld(asked.table(), asked.column()))
                .findFirst()
                .ifPresent(asked -> {
                    throw forbidden(Act.SEE, "the column " + asked.table() + "." + asked.column());
                });
    }

    void requireDeletion(Plan plan) {
        require(plan.by());
        String table = plan.table().name();
        require(Act.DELETE, table);
        if (plan.selection().isForGood()) {
            require(Act.DELETE_FOR_GOOD, table);
        }
        if (plan.selection().isOfAllRecords() || plan.isOfWholeTable()) {
            require(Act.DELETE_ALL, table);
        } else if (plan.selection().criteria().isPresent() || plan.selected() > 1) {
            require(Act.DELETE_SEVERAL, table);
        }
    }

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
        return ((RunOutcome) outcome)
                .showing(
                        outcome.deleted().stream().map(this::seen).toList(),
                        outcome.skipped().stream()
                                .map(skipped -> new Skipped(seen(skipped.root()), seen(skipped.blockers())))
                                .toList());
    }

    /** What of a record may be seen: all but withheld columns, or only its key. */
    RecordContent seen(RecordContent record) {
        String table = record.table().name();
        if (!may(Act.SEE, table) || !permissions.may(by, Act.SEE, table, record.values())) {
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
        shown.keySet().removeIf(column -> !key.contains(column) && permissions.withholds(by, table, column));
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
        return catalog.tables().stream()
                .filter(known -> known.name().equals(table))
                .findFirst();
    }

    /** The words of what somebody else has selected may tell of records or columns that nobody else is to know of. */
    String seen(String selection, String table, By whose) {
        boolean all = !permissions.isOfRecords()
                && known(table).stream()
                        .noneMatch(known -> known.columns().stream().anyMatch(column -> isWithheld(known, column)));
        return all || whose.actor().equals(by.actor()) ? selection : "records of " + table;
    }

    private boolean isWithheld(Table table, Column column) {
        return !table.identity().contains(column) && permissions.withholds(by, table.name(), column.name());
    }

    private boolean isLabelWithheld(Table table) {
        Label label = catalog.label(table);
        List<Column> told = label.columns().isEmpty() && table.identity().isEmpty()
                ? table.columns().subList(0, 1)
                : label.columns();
        return told.stream().anyMatch(column -> isWithheld(table, column));
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
                may(Act.SEE, child.name()) ? seen(child, effect.samples()) : List.of());
    }

    private List<Blocker> seen(List<Blocker> blockers) {
        return blockers.stream()
                .map(blocker -> new Blocker(
                        blocker.link(),
                        blocker.reason(),
                        blocker.count(),
                        may(Act.SEE, blocker.link().child().name())
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
