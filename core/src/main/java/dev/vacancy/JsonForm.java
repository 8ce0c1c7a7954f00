package dev.vacancy;

import dev.vacancy.bulk.BulkRun;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.history.DeletedRecord;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.internal.request.PlainValues;
import dev.vacancy.retirement.Dependent;
import dev.vacancy.retirement.Retired;
import dev.vacancy.retirement.RetirementOutcome;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TraceOutcome;
import dev.vacancy.trace.TracePart;
import dev.vacancy.trace.TracedRecord;
import java.nio.file.Path;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.UUID;

/**
 * Results for programs: maps and lists of text, numbers, truth values and nulls, which any mapper writes as JSON (RFC 8259) the same way.
 * Moments and durations are text as in ISO 8601, bytes are hexadecimal digits, keys are text as {@link Key#text()} gives it. The
 * command-line tool and the servlet answer in this form; {@code docs/output.schema.json} describes its members.
 *
 * <pre>{@code
 * Map<String, Object> json = JsonForm.of(vacancy.plan(selection, by));
 * }</pre>
 *
 * <p>The maps keep the order of their members and can be changed by the caller. Members may be added by a later version.
 *
 * @since 0.1
 */
public final class JsonForm {
    private JsonForm() {}

    /**
     * Returns what a deletion would do.
     *
     * @param plan the plan
     * @return its table, criteria, records, counts, effects, blockers, warnings and fingerprint
     */
    public static Map<String, Object> of(Plan plan) {
        return PlanForm.of(plan);
    }

    /**
     * Returns what a run did.
     *
     * @param outcome the outcome
     * @return its run, counts and deleted records
     */
    public static Map<String, Object> of(Outcome outcome) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("run", outcome.runId().toString());
        form.put("table", outcome.table());
        form.put("by", PlanForm.of(outcome.by()));
        form.put("startedAt", outcome.startedAt().toString());
        form.put("took", outcome.took().toString());
        form.put("counts", outcome.counts());
        form.put("marked", outcome.marked().stream().sorted().toList());
        form.put("changed", outcome.changed());
        form.put(
                "deleted",
                outcome.deleted().stream().map(RecordContent::plainValues).toList());
        form.put("notFound", outcome.notFound().stream().map(Key::text).toList());
        form.put("skipped", outcome.skipped().stream().map(JsonForm::of).toList());
        form.put("fingerprint", outcome.fingerprint());
        return form;
    }

    /**
     * Returns a selected record that is left out.
     *
     * @param skipped the record with its blockers
     * @return its key, its label or null, and what forbids its deletion
     */
    public static Map<String, Object> of(Skipped skipped) {
        Map<String, Object> form = PlanForm.of(Sample.of(skipped.root()));
        form.put("blockers", skipped.blockers().stream().map(PlanForm::of).toList());
        return form;
    }

    /**
     * Returns how far a bulk run is.
     *
     * @param run the run
     * @return its state, numbers and times
     */
    public static Map<String, Object> of(BulkRun run) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("run", run.runId().toString());
        form.put("name", run.name());
        form.put("table", run.table());
        form.put("selection", run.selection());
        form.put("actor", run.by().actor());
        form.put("reason", run.by().reason().orElse(null));
        form.put("state", run.state().toString());
        form.put("records", run.records());
        form.put("done", run.done());
        form.put("skipped", run.skipped());
        form.put("failed", run.failed());
        form.put("deleted", run.deleted());
        form.put("startedAt", run.startedAt().toString());
        form.put("endedAt", run.endedAt().map(Instant::toString).orElse(null));
        form.put("workedAt", run.workedAt().toString());
        return form;
    }

    /**
     * Returns an entry of the audit trail.
     *
     * @param entry the entry
     * @return what happened to which record, by whom and when, with the record before that; null in its place once it was erased
     */
    public static Map<String, Object> of(TrailEntry entry) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("run", entry.run().toString());
        form.put("step", entry.step());
        form.put("place", entry.place());
        form.put("action", entry.action());
        form.put("table", entry.table());
        form.put("key", entry.key());
        form.put("actor", entry.by().actor());
        form.put("reason", entry.by().reason().orElse(null));
        form.put("colleague", entry.colleague().orElse(null));
        form.put("at", entry.at().toString());
        form.put("before", entry.before().map(PlainValues::of).orElse(null));
        form.put("after", entry.after().map(PlainValues::of).orElse(null));
        return form;
    }

    /**
     * Returns a message for somebody outside of the database.
     *
     * @param message the message
     * @return what happened to which record, by whom and when, and how its handling stands
     */
    public static Map<String, Object> of(FollowUpMessage message) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("id", message.id().toString());
        form.put("followUp", message.followUp());
        form.put("action", message.action().toString());
        form.put("table", message.table());
        form.put("key", message.key().orElse(null));
        form.put("before", message.before().map(PlainValues::of).orElse(null));
        form.put("after", message.after().map(PlainValues::of).orElse(null));
        form.put("run", message.run().toString());
        form.put("actor", message.by().actor());
        form.put("reason", message.by().reason().orElse(null));
        form.put("at", message.at().toString());
        form.put("state", message.state().toString());
        form.put("attempts", message.attempts());
        form.put("dueAt", message.dueAt().toString());
        form.put("failure", message.failure().orElse(null));
        return form;
    }

    /**
     * Returns a soft-deleted record.
     *
     * @param deleted the record
     * @return what it is, since when, by whom and why it has been deleted, and how many days are left before it may be purged
     */
    public static Map<String, Object> of(DeletedRecord deleted) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("table", deleted.record().table().name());
        form.put("key", deleted.record().key().text());
        form.put("label", deleted.record().label().orElse(null));
        form.put("at", deleted.at().map(String::valueOf).orElse(null));
        form.put("actor", deleted.by().map(By::actor).orElse(null));
        form.put("reason", deleted.by().flatMap(By::reason).orElse(null));
        form.put("daysLeft", deleted.daysLeft().orElse(null));
        form.put("run", deleted.run().map(String::valueOf).orElse(null));
        form.put("record", deleted.record().plainValues());
        return form;
    }

    /**
     * Returns what is known of a person.
     *
     * @param trace the trace
     * @return the record, and each part with what an erasure does with it
     */
    public static Map<String, Object> of(Trace trace) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("table", trace.table());
        form.put("key", trace.key());
        form.put("label", trace.label().orElse(null));
        form.put("there", trace.isThere());
        form.put("at", trace.madeAt().toString());
        form.put("parts", trace.parts().stream().map(JsonForm::of).toList());
        form.put("warnings", trace.warnings());
        return form;
    }

    private static Map<String, Object> of(TracePart part) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("relation", part.relation().toString());
        form.put("table", part.table());
        form.put("where", part.where());
        form.put("under", part.under().orElse(null));
        form.put("count", part.count());
        form.put("treatment", part.treatment().toString());
        form.put("reason", part.reason().orElse(null));
        form.put("samples", part.samples());
        return form;
    }

    /**
     * Returns what came of erasing what was known of a person.
     *
     * @param outcome the outcome
     * @return how many records went, in how many places something was masked, and what is left
     */
    public static Map<String, Object> of(TraceOutcome outcome) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("table", outcome.table());
        form.put("key", outcome.key());
        form.put("by", PlanForm.of(outcome.by()));
        form.put("at", outcome.at().toString());
        form.put("deleted", outcome.deleted());
        form.put("masked", outcome.masked());
        form.put("entries", outcome.entries());
        form.put("left", of(outcome.left()));
        return form;
    }

    /**
     * Returns a record of a person's, or one that says something of them.
     *
     * @param record the record
     * @return its table, key and values, and what it has to do with the person
     */
    public static Map<String, Object> of(TracedRecord record) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("relation", record.relation().toString());
        form.put("table", record.table());
        form.put("key", record.key().orElse(null));
        form.put("run", record.run().map(UUID::toString).orElse(null));
        form.put("values", PlainValues.of(record.values()));
        return form;
    }

    /**
     * Returns what a step of a retirement would do.
     *
     * @param plan the plan
     * @return what retires, what stands on it and what becomes of each, and what the database tells of its use
     */
    public static Map<String, Object> of(RetirementPlan plan) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("run", plan.id().toString());
        form.put("step", plan.step().toString());
        form.put("table", plan.table());
        form.put("column", plan.column().orElse(null));
        form.put("nameAside", plan.nameAside());
        form.put("by", PlanForm.of(plan.by()));
        form.put("dueAt", plan.dueAt().toString());
        form.put("records", plan.records());
        form.put("filled", plan.filled());
        form.put("dependents", plan.dependents().stream().map(JsonForm::of).toList());
        form.put("use", plan.use());
        form.put("unknown", plan.unknown());
        form.put(
                "restorableEntries",
                plan.restorableEntries().isPresent() ? plan.restorableEntries().getAsLong() : null);
        form.put("notes", plan.notes());
        form.put("files", plan.files().stream().map(Path::toString).toList());
        form.put("fingerprint", plan.fingerprint());
        return form;
    }

    private static Map<String, Object> of(Dependent dependent) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("kind", dependent.kind().toString());
        form.put("name", dependent.name());
        form.put("fate", dependent.fate().toString());
        form.put("definition", dependent.definition().orElse(null));
        form.put("remedy", dependent.remedy().orElse(null));
        return form;
    }

    /**
     * Returns what a step of a retirement did.
     *
     * @param outcome the outcome
     * @return the step, how many records are concerned, and the files
     */
    public static Map<String, Object> of(RetirementOutcome outcome) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("run", outcome.id().toString());
        form.put("step", outcome.step().toString());
        form.put("name", outcome.name());
        form.put("nameAside", outcome.nameAside());
        form.put("by", PlanForm.of(outcome.by()));
        form.put("at", outcome.at().toString());
        form.put("dueAt", outcome.dueAt().toString());
        form.put("records", outcome.records());
        form.put("files", outcome.files().stream().map(Path::toString).toList());
        form.put("leftOut", outcome.leftOut());
        return form;
    }

    /**
     * Returns something that has retired.
     *
     * @param retired the column or table
     * @return what it is, how far it has come, and when it may be dropped
     */
    public static Map<String, Object> of(Retired retired) {
        Map<String, Object> form = new LinkedHashMap<>();
        form.put("run", retired.id().toString());
        form.put("table", retired.table());
        form.put("column", retired.column().orElse(null));
        form.put("nameAside", retired.nameAside());
        form.put("state", retired.state().toString());
        form.put("by", PlanForm.of(retired.by()));
        form.put("at", retired.at().toString());
        form.put("dueAt", retired.dueAt().toString());
        form.put("files", retired.files().stream().map(Path::toString).toList());
        return form;
    }
}
