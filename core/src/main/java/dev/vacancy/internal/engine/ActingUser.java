package dev.vacancy.internal.engine;

import dev.vacancy.By;
import dev.vacancy.EmptyingPlan;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Permissions;
import dev.vacancy.Permissions.Action;
import dev.vacancy.Plan;
import dev.vacancy.Proposal;
import dev.vacancy.Selection;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.ErasurePlan;
import dev.vacancy.history.MaskingPlan;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SelectedRecords;
import dev.vacancy.internal.gate.Permit;
import dev.vacancy.internal.planning.RecordObserver;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TracePart;
import dev.vacancy.trace.TracePlan;
import dev.vacancy.trace.Treatment;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * Somebody who may do some things and not others.
 *
 * @param by who
 * @param permissions what they may do
 * @param catalog tells what records are called by
 */
record ActingUser(By by, Permissions permissions, DatabaseCatalog catalog) implements Permit, RecordObserver {
    boolean may(Action act, String table) {
        return permissions.may(by, act, table);
    }

    /** Whether they may do something with a record, whose table allows it. */
    boolean may(Action act, RecordContent record) {
        return permissions.may(by, act, record.table().name(), TypedContent.of(record));
    }

    void require(Action act, String table) {
        if (!may(act, table)) {
            throw forbidden(act, table.isEmpty() ? "the audit trail" : "records of " + table);
        }
    }

    private InvalidRequestException forbidden(Action act, String what) {
        return new InvalidRequestException(
                        FailureCode.FORBIDDEN,
                        by.actor() + " may not do that with " + what + ".",
                        "Ask somebody who may.")
                .about("act", act.name().toLowerCase(Locale.ROOT));
    }

    /** Refuses to do something with a certain record. */
    void require(Action act, String table, String key, Map<String, Object> values) {
        if (!permissions.may(by, act, table, values)) {
            throw forbidden(act, table + " " + key);
        }
    }

    @Override
    public void look(Selection selection, RecordContent record, boolean toRun) {
        String table = record.table().name();
        String key = record.key().text();
        require(toRun ? Action.DELETE : Action.PREVIEW, table, key, TypedContent.of(record));
        if (toRun && selection.isHard()) {
            require(Action.DELETE_HARD, table, key, TypedContent.of(record));
        }
    }

    /** Whether they may know what happened to a record, by the content that the trail has of it. */
    boolean mayKnow(TrailEntry entry) {
        return !permissions.isOfRecords()
                || content(entry)
                        .filter(values -> permissions.may(by, Action.HISTORY, entry.table(), values))
                        .isPresent();
    }

    /** Refuses what they may not do with the record that an entry is of. */
    void require(Action act, TrailEntry entry) {
        content(entry).ifPresent(values -> require(act, entry.table(), entry.key(), values));
    }

    private Optional<Map<String, Object>> content(TrailEntry entry) {
        return TypedContent.of(entry, catalog);
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
            require(Action.DELETE_ALL, emptying.table().name());
        } else if (plan instanceof RestorePlan restore) {
            require(Action.RESTORE, restore.run().table());
        } else if (plan instanceof ErasurePlan erasure) {
            require(Action.DELETE_HARD, erasure.table());
        } else if (plan instanceof RetirementPlan retirement) {
            require(Action.RETIRE, retirement.table());
        } else if (plan instanceof MaskingPlan) {
            require(Action.KEEP, "");
        } else if (plan instanceof TracePlan trace) {
            require(trace.trace());
            require(Action.KEEP, "");
            trace.trace().parts().stream()
                    .filter(part -> part.treatment() != Treatment.KEEP)
                    .forEach(part -> require(Action.DELETE_HARD, part.table()));
        }
    }

    /** A trace has columns of many tables, and says of each whether a text stands there. */
    void requireWhole(DatabaseCatalog known) {
        for (Table table : known.tables()) {
            for (Column column : table.columns()) {
                if (isWithheld(table, column)) {
                    throw forbidden(Action.SEE, "the column " + table + "." + column);
                }
            }
        }
        if (permissions.isOfRecords()) {
            throw forbidden(Action.SEE, "all records, which a trace is of");
        }
    }

    /** Whoever traces a person sees all of it: a part of a trace would pass for the whole. */
    void require(Trace trace) {
        Stream.concat(Stream.of(trace.table()), trace.parts().stream().map(TracePart::table))
                .filter(table -> !table.isEmpty())
                .distinct()
                .forEach(table -> {
                    require(Action.SEE, table);
                    require(Action.HISTORY, table);
                });
    }

    /** Whether a record is picked tells what its parents hold. */
    void requireSight(SelectedRecords selected) {
        Condition condition = selected.picked().condition();
        condition.parentsAsked().forEach(parent -> require(Action.SEE, parent.name()));
        condition
                .asked(selected.table())
                .filter(asked -> isWithheld(asked.table(), asked.column()))
                .findFirst()
                .ifPresent(asked -> {
                    throw forbidden(Action.SEE, "the column " + asked.table() + "." + asked.column());
                });
    }

    void requireDeletion(Plan plan) {
        require(plan.by());
        String table = plan.table().name();
        require(Action.DELETE, table);
        if (plan.selection().isHard()) {
            require(Action.DELETE_HARD, table);
        }
        if (plan.selection().isOfAllRecords() || plan.isOfWholeTable()) {
            require(Action.DELETE_ALL, table);
        } else if (plan.selection().criteria().isPresent() || plan.selected() > 1) {
            require(Action.DELETE_SEVERAL, table);
        }
    }

    /** What of it they may see. */
    VisibleContent sight() {
        return new VisibleContent(this);
    }

    /** Whether a column is withheld from them; one of a key never is. */
    boolean isWithheld(Table table, Column column) {
        return !table.identity().contains(column) && permissions.withholds(by, table.name(), column.name());
    }
}
