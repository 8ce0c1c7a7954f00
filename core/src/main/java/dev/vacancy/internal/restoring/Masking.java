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
import dev.vacancy.internal.planning.Gated;
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
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.UUID;

/**
 * Masks texts wherever the audit trail has it: in what it says of records, and in the words of runs. What is left is digested anew, by an
 * entry of the masking, so that nobody changes it later under that pretext.
 *
 * @since 0.1
 */
public final class Masking {
    private final Planner planner;
    private final Rules rules;
    private final Clock clock;
    private final TrailTables tables;
    private final EntryReader reader;
    private final TextElsewhere elsewhere;

    /**
     * Prepares to mask.
     *
     * @param planner tells what a plan is of
     * @param clock tells when
     * @param tables the trail's
     * @param elsewhere what people wrote beside the trail
     */
    public Masking(Planner planner, Clock clock, TrailTables tables, TextElsewhere elsewhere) {
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
        Scope scope = planner.on(connection).scope(RequestDigest.ofMasking(sought.toString()));
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

    /**
     * Refuses a reason that would be the next place to have it.
     *
     * @param sought the text
     * @param by who asks, and why
     */
    public static void requireNotAgain(SoughtText sought, By by) {
        if (sought.isIn(by.actor()) || by.reason().filter(sought::isIn).isPresent()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "Who asks for this, or why, has the very text that is to be masked, and is written down.",
                    "Say why without it, such as by the number of the request.");
        }
    }

    /**
     * Finds the holds that have a text themselves, and those on what has it.
     *
     * @param connection an open connection
     * @param found where the text stands
     * @return the runs that made them
     * @throws SQLException when the database doesn't answer
     */
    public List<TrailRun> holds(Connection connection, Mentions found) throws SQLException {
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
        SoughtText sought = new SoughtText(plan.text());
        Mentions found = Mentions.of(rules.catalog(), tables, connection, sought);
        String words = "a text of " + plan.text().codePointCount(0, plan.text().length()) + " characters";
        carryOut(passage, plan, connection, new Masked(sought, found, List.of(), "", words, plan.counts()), id);
        return plan.total();
    }

    /**
     * What is masked.
     *
     * @param sought the text
     * @param found where the trail has it
     * @param rewritten the records in which it was masked, column by column
     * @param table the table that it is about; empty for none
     * @param words what is written down of it
     * @param counts in how many places, by table
     */
    public record Masked(
            SoughtText sought,
            Mentions found,
            List<Rewritten> rewritten,
            String table,
            String words,
            Map<String, Long> counts) {
        /** Keeps its own copies. */
        public Masked {
            rewritten = List.copyOf(rewritten);
            counts = Map.copyOf(counts);
        }
    }

    /**
     * The records of a table in which a text was masked.
     *
     * @param table the table
     * @param column the column
     * @param texts what stands there now, by key
     */
    public record Rewritten(String table, String column, Map<String, String> texts) {
        /** Keeps its own copy of the texts. */
        public Rewritten {
            texts = Collections.unmodifiableMap(new LinkedHashMap<>(texts));
        }
    }

    /**
     * Masks what was found, and writes down that this was done.
     *
     * @param passage proof that it, or the plan that it is part of, has come through the gate
     * @param plan what has come through
     * @param connection a connection in a transaction that writes, with the trail's lock
     * @param masked what is masked
     * @param id the number of the masking
     * @throws SQLException when the database refuses
     */
    public void carryOut(Passage passage, Gated plan, Connection connection, Masked masked, UUID id)
            throws SQLException {
        passage.require(plan);
        Optional<Collecting> collecting = Collecting.of(rules, tables.dialect());
        if (collecting.isPresent()) {
            collecting.get().all(connection);
        }
        SoughtText sought = masked.sought();
        Recorder recorder = new Recorder(rules.recording().orElseThrow(), tables.dialect());
        try (EntryWriter writer = recorder.writer(connection)) {
            long place = 0;
            for (Mentions.InEntry in : masked.found().entries()) {
                StoredEntry left = left(in, sought, writer, id);
                reader.replace(connection, left);
                Action action = left.isErased() ? Action.ERASED : Action.MASKED;
                Recorder.Heading heading =
                        new Recorder.Heading(id, EntryReader.OF_ENTRIES, action, left.table(), Optional.empty());
                writer.add(heading, ++place, left.key(), left.remains(), left.reference());
            }
            place = 0;
            for (Mentions.InRun in : masked.found().runs()) {
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
            int step = EntryReader.OF_RECORDS;
            for (Rewritten records : masked.rewritten()) {
                write(writer, id, step++, records);
            }
            writer.flush();
        }
        elsewhere.mask(connection, sought);
        new Chain(tables)
                .append(
                        connection,
                        new TrailChangeFacts(rules, clock)
                                .of(
                                        id,
                                        RunKind.MASKING,
                                        passage.by(),
                                        passage.colleague(),
                                        masked.table(),
                                        masked.words(),
                                        masked.counts(),
                                        Optional.empty()));
    }

    private static void write(EntryWriter writer, UUID id, int step, Rewritten records) throws SQLException {
        long place = 0;
        for (Map.Entry<String, String> record : records.texts().entrySet()) {
            String altered = Image.write(Map.of(records.column(), record.getValue()));
            Recorder.Heading heading =
                    new Recorder.Heading(id, step, Action.REWRITTEN, records.table(), Optional.of(altered));
            writer.add(heading, ++place, record.getKey(), null, null);
        }
    }

    private static StoredEntry left(Mentions.InEntry in, SoughtText sought, EntryWriter writer, UUID id) {
        StoredEntry entry = in.entry();
        long by = RunNumber.of(id);
        if (in.whole()) {
            return entry.erased(sought.isIn(entry.key()) ? null : entry.key(), by);
        }
        return entry.masked(
                masked(entry.image(), in, sought), masked(entry.alteration(), in, sought), writer.salt(), by);
    }

    private static String masked(Optional<Map<String, Object>> image, Mentions.InEntry in, SoughtText sought) {
        return image.map(values -> {
                    Map<String, Object> left = new LinkedHashMap<>();
                    values.forEach((name, value) -> left.put(
                            name,
                            value instanceof String text && in.columns().contains(name)
                                    ? sought.maskedIn(text)
                                    : value));
                    return Image.write(left);
                })
                .orElse(null);
    }
}
