package dev.vacancy.internal.restoring;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.Mention;
import dev.vacancy.history.TrailRun;
import dev.vacancy.internal.follow.Collecting;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.ConsentDemands;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.planning.RequestDigest;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.EntriesByKey;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.EntryWriter;
import dev.vacancy.internal.trail.Image;
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.SoughtText;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.rule.Consent;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.UUID;

/**
 * Masks a text wherever the audit trail has it: in what it says of records, and in the words of runs. What is left is digested anew, by an
 * entry of the masking, so that nobody changes it later under that pretext.
 */
final class Masking {
    private final Planner planner;
    private final Rules rules;
    private final Clock clock;
    private final TrailTables tables;
    private final EntryReader reader;
    private final TextElsewhere elsewhere;

    Masking(Planner planner, Clock clock, TrailTables tables, TextElsewhere elsewhere) {
        this.planner = planner;
        this.rules = planner.rules();
        this.clock = clock;
        this.tables = tables;
        this.reader = new EntryReader(tables);
        this.elsewhere = elsewhere;
    }

    /** Works out where a text would be masked. */
    PlannedMasking plan(Connection connection, SoughtText sought, By by) throws SQLException {
        requireNotAgain(sought, by);
        Scope scope = planner.scope(connection, RequestDigest.ofMasking(sought.toString()));
        Mentions found = Mentions.of(rules.catalog(), tables, connection, sought);
        TextElsewhere.Found others = elsewhere.look(connection, sought);
        List<Mention> mentions = new ArrayList<>();
        found.runs().forEach(run -> mentions.add(run.mention()));
        found.entries().forEach(entry -> mentions.add(entry.mention()));
        mentions.addAll(others.mentions());
        Map<String, Long> counts = new TreeMap<>();
        mentions.forEach(mention -> counts.merge(mention.table(), 1L, Long::sum));
        return new PlannedMasking(
                sought.toString(),
                by,
                clock.instant(),
                mentions,
                counts,
                holds(connection, found),
                others.open(),
                Chain.digest(scope + "\n" + mentions),
                demanded(counts),
                new ConsentDemands(rules, rules).colleague(known(counts)),
                scope);
    }

    /** The reason would be the next place to have it. */
    private static void requireNotAgain(SoughtText sought, By by) {
        if (sought.isIn(by.actor()) || by.reason().filter(sought::isIn).isPresent()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "Who asks for this, or why, has the very text that is to be masked, and is written down.",
                    "Say why without it, such as by the number of the request.");
        }
    }

    /** Those that have the text themselves, and those on what has it. */
    private List<TrailRun> holds(Connection connection, Mentions found) throws SQLException {
        List<TrailRun> holds = new ArrayList<>();
        for (StoredRun hold : tables.holds(connection)) {
            boolean selecting = found.runs().stream()
                    .anyMatch(in ->
                            in.run().number() == hold.number() && in.words().contains("selection"));
            List<String> keys = found.entries().stream()
                    .map(Mentions.InEntry::entry)
                    .filter(entry -> entry.table().equals(hold.facts().table()))
                    .map(StoredEntry::keyText)
                    .distinct()
                    .toList();
            boolean standing = hold.facts().kind() == RunKind.STANDING_HOLD;
            if (selecting
                    || (!keys.isEmpty() && (standing || new EntriesByKey(reader).hasAny(connection, hold, keys)))) {
                holds.add(PublicForm.run(hold));
            }
        }
        return holds;
    }

    /** As for a record of each of the tables that goes with no way back; what is typed is how many places there are. */
    private Consent demanded(Map<String, Long> counts) {
        Consent demanded = Consent.NONE;
        for (String name : known(counts).keySet()) {
            demanded = demanded.and(new ConsentDemands(rules, rules)
                    .withoutWayBack(rules.catalog().table(name)));
        }
        return demanded == Consent.LABEL ? Consent.NUMBER : demanded;
    }

    private Map<String, Long> known(Map<String, Long> counts) {
        Map<String, Long> known = new LinkedHashMap<>(counts);
        List<String> names = rules.catalog().tables().stream().map(Table::name).toList();
        known.keySet().removeIf(name -> !names.contains(name));
        return known;
    }

    /**
     * Masks it, and writes down that this was done.
     *
     * @param passage proof that it has come through the gate
     * @param plan what has come through
     * @return in how many places
     */
    long carryOut(Passage passage, PlannedMasking plan, Connection connection, UUID id) throws SQLException {
        passage.require(plan);
        Optional<Collecting> collecting = Collecting.of(rules, tables.dialect());
        if (collecting.isPresent()) {
            collecting.get().all(connection);
        }
        SoughtText sought = new SoughtText(plan.text());
        Mentions found = Mentions.of(rules.catalog(), tables, connection, sought);
        Recorder recorder = new Recorder(rules.recording().orElseThrow(), tables.dialect());
        try (EntryWriter writer = recorder.writer(connection)) {
            long place = 0;
            for (Mentions.InEntry in : found.entries()) {
                StoredEntry left = left(in, sought, writer, id);
                reader.replace(connection, left);
                Action action = left.isErased() ? Action.ERASED : Action.MASKED;
                Recorder.Heading heading =
                        new Recorder.Heading(id, EntryReader.OF_ENTRIES, action, left.table(), Optional.empty());
                writer.add(heading, ++place, left.key(), left.remains(), left.reference());
            }
            place = 0;
            for (Mentions.InRun in : found.runs()) {
                StoredRun left = in.run().masked(sought::maskedIn, RunNumber.of(id));
                tables.replaceWords(connection, left);
                Action action = left.isMasked() ? Action.MASKED : Action.ERASED;
                Recorder.Heading heading = new Recorder.Heading(
                        id, EntryReader.OF_RUNS, action, left.facts().table(), Optional.empty());
                writer.add(
                        heading,
                        ++place,
                        null,
                        left.isMasked() ? left.remains() : null,
                        Reference.toRun(left.number()));
            }
            writer.flush();
        }
        elsewhere.mask(connection, sought);
        String selection =
                "a text of " + plan.text().codePointCount(0, plan.text().length()) + " characters";
        new Chain(tables)
                .append(
                        connection,
                        new TrailChangeFacts(rules, clock)
                                .of(
                                        id,
                                        RunKind.MASKING,
                                        passage.by(),
                                        passage.colleague(),
                                        "",
                                        selection,
                                        plan.counts(),
                                        Optional.empty()));
        return plan.total();
    }

    private static StoredEntry left(Mentions.InEntry in, SoughtText sought, EntryWriter writer, UUID id) {
        StoredEntry entry = in.entry();
        long by = RunNumber.of(id);
        if (in.whole()) {
            return entry.erased(sought.isIn(entry.key()) ? null : entry.key(), by);
        }
        return entry.masked(masked(entry.image(), sought), masked(entry.alteration(), sought), writer.salt(), by);
    }

    private static String masked(Optional<Map<String, Object>> image, SoughtText sought) {
        return image.map(values -> {
                    Map<String, Object> left = new LinkedHashMap<>();
                    values.forEach((name, value) ->
                            left.put(name, value instanceof String text ? sought.maskedIn(text) : value));
                    return Image.write(left);
                })
                .orElse(null);
    }
}
