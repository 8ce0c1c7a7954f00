package dev.vacancy.internal.tracing;

import dev.vacancy.Approval;
import dev.vacancy.Mode;
import dev.vacancy.catalog.Link;
import dev.vacancy.internal.failure.Deviations;
import dev.vacancy.internal.failure.LockFailures;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.restoring.Masking;
import dev.vacancy.internal.restoring.Mentions;
import dev.vacancy.internal.restoring.RecordTraces;
import dev.vacancy.internal.rules.PersonTrace.TextPlace;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.CompletedRun;
import dev.vacancy.internal.running.Runner;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.HoldsInForce;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.SoughtText;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.TrailKey;
import dev.vacancy.trace.Relation;
import dev.vacancy.trace.TraceOutcome;
import dev.vacancy.trace.TracePart;
import dev.vacancy.trace.Treatment;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.UUID;
import java.util.function.BiPredicate;

/** Erases what is known of a person: records, texts, the trail and the words of runs, in one transaction and by one answer. */
final class TraceErasure implements Runner.Attempt {
    private final Approval approval;
    private final PlannedTrace agreed;
    private final Tracing.Parts parts;
    private final Rules rules;
    private final Planner erasing;
    private Findings found;
    private FoundTrace left;
    private Map<String, Long> places = Map.of();
    private long entries;

    /**
     * Prepares one try.
     *
     * @param approval what was agreed to
     * @param agreed the plan of it
     * @param parts what does the single parts of it
     */
    TraceErasure(Approval approval, PlannedTrace agreed, Tracing.Parts parts) {
        this.approval = approval;
        this.agreed = agreed;
        this.parts = parts;
        this.rules = parts.planner().rules();
        this.erasing =
                parts.tracer().erasing(rules.catalog().table(agreed.trace().table()));
    }

    @Override
    public Planned plan(Connection connection, Optional<HoldsInForce> holds) {
        return erasing.on(connection).lock(agreed.deletion(), holds);
    }

    @Override
    public Passage pass(Connection connection, Planned now) throws SQLException {
        try {
            lockTexts(connection, now);
            parts.tables().beginWriting(connection);
            new Chain(parts.tables()).lock(connection);
            found = parts.tracer().find(connection, now.plan().table(), Tracing.key(agreed.trace()), now, true);
            PlannedTrace plan = parts.planning().plan(connection, found, agreed.by(), agreed.madeAt());
            if (found.sought().isPresent() && approval.colleague().isPresent()) {
                Masking.requireNotAgain(
                        found.sought().get(), approval.colleague().get());
            }
            return parts.gate().pass(approval, Mode.AT_ONCE, plan, () -> TraceDifference.between(agreed, plan));
        } catch (SQLException failure) {
            if (parts.dialect().isLockFailure(failure)) {
                throw LockFailures.ofConflict("what is known of a person", failure);
            }
            throw failure;
        }
    }

    /** Whoever runs anything locks records first, and the trail last. */
    private void lockTexts(Connection connection, Planned now) throws SQLException {
        if (agreed.sought().isPresent()) {
            TextRows rows = new TextRows(
                    rules, parts.dialect(), connection, parts.planner().limits().lockWait());
            for (TextPlace place : rules.traceOf(now.plan().table()).places()) {
                rows.find(place, agreed.sought().get(), now, true);
            }
        }
    }

    @Override
    public void end(Connection connection, Passage passage, UUID run) throws SQLException {
        Map<String, Long> counts = new TreeMap<>();
        List<Masking.Rewritten> rewritten = found.sought().isPresent()
                ? maskTexts(connection, found.sought().get(), counts)
                : List.of();
        // What has just gone stands in the trail as well, and what belonged to the person before it went.
        RecordTraces recorded = parts.tracer()
                .recorded(connection, found.table(), found.key(), parts.tracer().formerly(found.table()))
                .orElseThrow();
        BiPredicate<String, String> theirs = Tracer.theirs(found.table(), found.key(), Optional.of(recorded));
        entries = parts.erasure()
                .carryOut(
                        passage,
                        passage.plan(),
                        connection,
                        recorded,
                        this::isLost,
                        found.table().name(),
                        found.key(),
                        // Whoever asks what became of it asks by the number of the run.
                        found.planned().steps().isEmpty() ? run : RunNumber.newId());
        parts.elsewhere().remove(connection, theirs);
        if (found.sought().isPresent()) {
            maskTrail(connection, passage, found.sought().get(), rewritten, counts);
        }
        places = counts;
        prove(connection, theirs);
    }

    /** What belonged to a record that stays for something else is gone all the same. */
    private boolean isLost(StoredEntry entry) {
        boolean kept = found.rules().kept().isPresent()
                && entry.table().equals(found.table().name())
                && found.key().equals(entry.key());
        return Action.DELETED.isOf(entry) || (kept && Action.MARKED.isOf(entry));
    }

    private List<Masking.Rewritten> maskTexts(Connection connection, SoughtText sought, Map<String, Long> counts)
            throws SQLException {
        List<Masking.Rewritten> rewritten = new ArrayList<>();
        TextRows rows = new TextRows(
                rules, parts.dialect(), connection, parts.planner().limits().lockWait());
        for (Map.Entry<TextPlace, List<TextRows.Row>> of :
                TracePlanner.masked(found).entrySet()) {
            rows.mask(of.getKey(), of.getValue(), sought);
            Map<String, String> texts = new LinkedHashMap<>();
            of.getValue().forEach(row -> texts.put(TrailKey.of(row.key()), sought.maskedIn(row.text())));
            rewritten.add(new Masking.Rewritten(
                    of.getKey().table().name(), of.getKey().column().name(), texts));
            counts.merge(of.getKey().table().name(), (long) of.getValue().size(), Long::sum);
        }
        return rewritten;
    }

    private void maskTrail(
            Connection connection,
            Passage passage,
            SoughtText sought,
            List<Masking.Rewritten> rewritten,
            Map<String, Long> counts)
            throws SQLException {
        Mentions mentions =
                Mentions.of(rules.catalog(), parts.tables(), connection, sought, Tracer.masked(found.rules()));
        mentions.entries().forEach(in -> counts.merge(in.entry().table(), 1L, Long::sum));
        mentions.runs()
                .forEach(in ->
                        counts.merge(in.run().facts().table(), (long) in.words().size(), Long::sum));
        found.words()
                .mentions()
                .forEach(mention ->
                        counts.merge(mention.table(), (long) mention.places().size(), Long::sum));
        if (!counts.isEmpty()) {
            parts.masking()
                    .carryOut(
                            passage,
                            passage.plan(),
                            connection,
                            new Masking.Masked(
                                    sought,
                                    mentions,
                                    rewritten,
                                    found.table().name(),
                                    "what a record of " + found.table().name() + " was known by",
                                    counts),
                            RunNumber.newId());
        }
    }

    /** Looks once more, before anything is committed: nothing may be left but what was to stay. */
    private void prove(Connection connection, BiPredicate<String, String> theirs) throws SQLException {
        Findings again = parts.tracer().find(connection, afterwards(connection, theirs), false);
        Optional<PlannedDeletion> kept = Optional.empty();
        Map<Link, Long> referring = Map.of();
        if (found.record().isPresent() && found.rules().kept().isPresent()) {
            kept = Optional.of(erasing.on(connection)
                    .preview(Tracer.selection(found.table(), Tracing.key(agreed.trace())), agreed.by())
                    .plan());
        } else if (found.record().isPresent()) {
            referring = parts.tracer()
                    .referring(connection, found.table(), found.record().get());
        }
        left = TraceParts.afterwards(
                rules, again, kept, referring, parts.clock().instant());
        for (TracePart part : left.parts()) {
            if (part.treatment() != Treatment.KEEP) {
                throw Deviations.known(
                        part.count() + " of " + part.where() + " (" + part.relation() + ")", part.table());
            }
        }
        if (kept.isPresent() && found.sought().isPresent()) {
            proveMasked(kept.get(), found.sought().get());
        }
    }

    private void proveMasked(PlannedDeletion kept, SoughtText sought) {
        kept.roots()
                .forEach(record -> found.rules().masked().forEach(column -> {
                    Object value = record.values().get(column.name());
                    if (value != null && sought.isIn(value.toString())) {
                        throw Deviations.known(
                                column.name() + " of " + found.table().name() + " (" + Relation.RECORD + ")",
                                found.table().name());
                    }
                }));
    }

    private Findings afterwards(Connection connection, BiPredicate<String, String> theirs) throws SQLException {
        return new Findings(
                found.rules(),
                found.key(),
                found.given(),
                found.record(),
                nothingGoes(found.planned()),
                parts.tracer()
                        .recorded(
                                connection,
                                found.table(),
                                found.key(),
                                parts.tracer().formerly(found.table())),
                found.sought(),
                Map.of(),
                Optional.empty(),
                found.words(),
                found.lines(),
                Map.of(),
                theirs,
                List.of());
    }

    /** Whatever is found now should have gone. */
    private static Planned nothingGoes(Planned planned) {
        return new Planned(
                planned.plan(), planned.selected(), List.of(), false, planned.holds(), table -> Optional.empty());
    }

    TraceOutcome outcome(CompletedRun done) {
        return new TraceOutcome(
                found.table().name(),
                found.key(),
                agreed.by(),
                parts.clock().instant(),
                goneFor(done),
                places,
                entries,
                left);
    }

    private Map<String, Long> goneFor(CompletedRun done) {
        Map<String, Long> gone = new LinkedHashMap<>(done.counts());
        done.marked().forEach(gone::remove);
        return gone;
    }
}
