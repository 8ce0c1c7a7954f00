package dev.vacancy.internal.restoring;

import dev.vacancy.audit.History;
import dev.vacancy.audit.HistoryQuery;
import dev.vacancy.audit.RestoreApproval;
import dev.vacancy.audit.RestoreOutcome;
import dev.vacancy.audit.RestorePlan;
import dev.vacancy.audit.TrailEntry;
import dev.vacancy.audit.TrailRun;
import dev.vacancy.audit.Verification;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Criteria;
import dev.vacancy.failure.DatabaseException;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.failure.LockedException;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.running.Work;
import dev.vacancy.internal.trail.Audit;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.EntryReader.Stored;
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.internal.trail.TrailTables.StoredRun;
import dev.vacancy.plan.By;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.Rules;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.run.StalePlanException;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Types;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.stream.Stream;

/**
 * The audit trail of a database.
 *
 * @since 0.1
 */
public final class TrailHistory implements History {
    private static final long SECONDS_OF_A_DAY = 24 * 60 * 60;

    private final Rules rules;
    private final Dialect dialect;
    private final Planner planner;
    private final Transactions transactions;
    private final Clock clock;
    private final Optional<TrailTables> kept;

    /**
     * Opens the trail.
     *
     * @param planner reads records
     * @param dialect the dialect of the database
     * @param transactions where to read and write
     * @param clock tells when runs began
     */
    public TrailHistory(Planner planner, Dialect dialect, Transactions transactions, Clock clock) {
        this.rules = planner.rules();
        this.dialect = dialect;
        this.planner = planner;
        this.transactions = transactions;
        this.clock = clock;
        this.kept = rules.recording().map(recording -> new TrailTables(recording.trail(), dialect));
    }

    private TrailTables tables() {
        return kept.orElseThrow(() -> new InvalidRequestException(
                FailureCode.NO_TRAIL,
                "There is no audit trail: the rules don't say where to keep one.",
                "Add it to the rules: RuleBook.trail(…), or 'trail: on' in vacancy.yaml."));
    }

    private EntryReader reader() {
        return new EntryReader(tables());
    }

    private <T> T writing(String what, Work<T> work) {
        return transactions.writing(connection -> {
            try {
                return work.on(connection);
            } catch (SQLException failure) {
                if (dialect.isLockFailure(failure)) {
                    throw LockedException.ofConflict("the audit trail", failure);
                }
                throw new DatabaseException(what, "Nothing was changed.", failure);
            }
        });
    }

    @Override
    public List<TrailRun> runs(HistoryQuery query) {
        Asked asked = new Asked();
        query.table().ifPresent(table -> asked.and("table_name = ?", table));
        query.run().ifPresent(run -> asked.and("(run_id = ? or part_of = ?)", run.toString(), run.toString()));
        query.actor().ifPresent(actor -> asked.and("actor = ?", actor));
        query.from().ifPresent(from -> asked.and("happened_at >= ?", TrailTables.text(from)));
        query.until().ifPresent(until -> asked.and("happened_at < ?", TrailTables.text(until)));
        return transactions.reading(
                connection -> tables()
                        .runs(
                                connection,
                                asked.words() + " order by place desc limit " + query.most(),
                                asked.values.toArray())
                        .stream()
                        .map(TrailHistory::told)
                        .toList());
    }

    /** What is asked, as SQL and its values. */
    private static final class Asked {
        private final List<String> parts = new ArrayList<>(List.of("1 = 1"));
        private final List<Object> values = new ArrayList<>();

        void and(String part, Object... bound) {
            parts.add(part);
            values.addAll(List.of(bound));
        }

        String words() {
            return String.join(" and ", parts);
        }
    }

    private static TrailRun told(StoredRun run) {
        RunFacts facts = run.facts();
        By by = By.user(facts.actor()).because(facts.reason().orElse(null));
        return new TrailRun(
                run.place(),
                facts.runId(),
                facts.kind(),
                by,
                Instant.parse(facts.at()),
                facts.table(),
                facts.selection(),
                facts.counts(),
                facts.partOf(),
                facts.about(),
                run.entries(),
                run.digest());
    }

    @Override
    public List<TrailEntry> entries(HistoryQuery query) {
        Optional<String> table = query.table().map(this::tableName);
        return transactions.reading(connection -> {
            List<TrailEntry> entries = new ArrayList<>();
            for (StoredRun run : matching(connection, query, "desc")) {
                if (entries.size() >= query.most()) {
                    break;
                }
                int most = query.most() - entries.size();
                for (Stored entry : entriesOf(connection, run, table, query.key(), most)) {
                    entries.add(told(entry, run));
                }
            }
            return entries;
        });
    }

    /** A record's table may be called by any of its names; of one that is gone, by the name that it had. */
    private String tableName(String given) {
        return rules.catalog().tables().stream()
                .filter(table -> table.name().equalsIgnoreCase(given))
                .map(Table::name)
                .findFirst()
                .orElse(given);
    }

    /** The runs that a query is about; where it names a record, only those that have an entry of it. */
    private List<StoredRun> matching(Connection connection, HistoryQuery query, String order) throws SQLException {
        Asked asked = new Asked();
        query.run().ifPresent(run -> asked.and("(run_id = ? or part_of = ?)", run.toString(), run.toString()));
        query.actor().ifPresent(actor -> asked.and("actor = ?", actor));
        query.from().ifPresent(from -> asked.and("happened_at >= ?", TrailTables.text(from)));
        query.until().ifPresent(until -> asked.and("happened_at < ?", TrailTables.text(until)));
        if (query.table().isPresent()) {
            String name = tableName(query.table().get());
            List<Object> values = new ArrayList<>(List.of(name));
            query.key().ifPresent(values::add);
            asked.and(
                    "run_id in (select e.run_id from " + tables().entriesName() + " e where e.table_name = ?"
                            + (query.key().isPresent() ? " and e.record_key = ?" : "") + ")",
                    values.toArray());
        } else {
            asked.and("entries > 0");
        }
        return tables().runs(connection, asked.words() + " order by place " + order, asked.values.toArray());
    }

    private List<Stored> entriesOf(
            Connection connection, StoredRun run, Optional<String> table, Optional<String> key, int most)
            throws SQLException {
        Asked asked = new Asked();
        asked.and("run_id = ?", run.facts().runId().toString());
        table.ifPresent(name -> asked.and("table_name = ?", name));
        key.ifPresent(text -> asked.and("record_key = ?", text));
        return reader().read(connection, asked.words() + " order by step, place limit " + most, asked.values.toArray());
    }

    private TrailEntry told(Stored entry, StoredRun run) {
        TrailRun whole = told(run);
        return new TrailEntry(
                UUID.fromString(entry.run()),
                entry.step(),
                entry.place(),
                entry.action(),
                entry.table(),
                entry.key(),
                whole.by(),
                whole.at(),
                entry.image().map(image -> readable(entry.table(), image)),
                entry.alteration().map(image -> readable(entry.table(), image)));
    }

    /** Numbers and truth values as such, where the column is still known; all else as the database writes it. */
    private Map<String, Object> readable(String tableName, Map<String, Object> image) {
        Optional<Table> table = rules.catalog().tables().stream()
                .filter(each -> each.name().equals(tableName))
                .findFirst();
        Map<String, Object> readable = new LinkedHashMap<>();
        image.forEach((name, value) -> readable.put(
                name,
                table.flatMap(known -> known.columns().stream()
                                .filter(column -> column.name().equals(name))
                                .findFirst())
                        .map(column -> readable(column, value))
                        .orElse(value)));
        return readable;
    }

    private static Object readable(Column column, Object value) {
        boolean plain = column.type().isInteger()
                || column.jdbcType() == Types.NUMERIC
                || column.jdbcType() == Types.DECIMAL
                || column.jdbcType() == Types.BOOLEAN;
        return plain && value instanceof String text ? column.type().read(text) : value;
    }

    @Override
    public void each(HistoryQuery query, Consumer<TrailEntry> each) {
        Optional<String> table = query.table().map(this::tableName);
        transactions.<Void>reading(connection -> {
            for (StoredRun run : matching(connection, query, "asc")) {
                UUID id = run.facts().runId();
                for (EntryReader.StepOf step : reader().steps(connection, id)) {
                    reader().each(
                                    connection,
                                    id,
                                    step.number(),
                                    portion -> portion.stream()
                                            .filter(entry -> table.map(entry.table()::equals)
                                                    .orElse(true))
                                            .filter(entry -> query.key()
                                                    .map(entry.key()::equals)
                                                    .orElse(true))
                                            .forEach(entry -> each.accept(told(entry, run))));
                }
            }
            return null;
        });
    }

    @Override
    public Verification verify(Optional<Verification.Head> kept) {
        return transactions.reading(connection -> {
            Audit audit = new Audit(tables());
            audit.look(
                    connection,
                    kept.map(Verification.Head::place).orElse(0L),
                    kept.map(Verification.Head::digest).orElse(""));
            return new Verification(
                    audit.runs(),
                    audit.entries(),
                    audit.erased(),
                    new Verification.Head(audit.lastPlace(), audit.lastDigest()),
                    audit.faults());
        });
    }

    @Override
    public UUID hold(String table, String criteria, By by) {
        Table held = rules.catalog().table(table);
        requireReason(by, "A hold");
        String text = Criteria.parse(criteria).toString();
        Resolution.of(Criteria.parse(criteria), held, rules.catalog(), clock);
        return append("hold", by, held.name(), text, Optional.empty());
    }

    private static void requireReason(By by, String what) {
        if (by.reason().isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE, what + " needs a reason.", "Say why, for whoever meets it years later.");
        }
    }

    @Override
    public void lift(UUID hold, By by) {
        TrailRun made = holds().stream()
                .filter(run -> run.runId().equals(hold))
                .findFirst()
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.UNKNOWN_RUN,
                        "There is no hold " + hold + ", or it is lifted already.",
                        "List the holds to see which there are."));
        append("lift", by, made.table(), made.selection(), Optional.of(hold));
    }

    private UUID append(String kind, By by, String table, String selection, Optional<UUID> about) {
        UUID id = UUID.randomUUID();
        writing("write into the audit trail", connection -> {
            tables().beginWriting(connection);
            return new Chain(tables()).append(connection, facts(id, kind, by, table, selection, Map.of(), about));
        });
        return id;
    }

    private RunFacts facts(
            UUID id,
            String kind,
            By by,
            String table,
            String selection,
            Map<String, Long> counts,
            Optional<UUID> about) {
        return new RunFacts(
                id,
                kind,
                by.actor(),
                by.reason(),
                TrailTables.text(clock.instant()),
                table,
                selection,
                rules.digest(),
                counts,
                Optional.empty(),
                about);
    }

    @Override
    public List<TrailRun> holds() {
        return transactions.reading(connection ->
                tables().holds(connection).stream().map(TrailHistory::told).toList());
    }

    @Override
    public long erase(String table, String key, By by) {
        Table erased = rules.catalog().table(table);
        UUID id = UUID.randomUUID();
        return writing("erase from the audit trail", connection -> {
            tables().beginWriting(connection);
            refuseHeld(connection, erased, key);
            refuseThere(connection, erased, key);
            long count = reader().erase(connection, erased.name(), key, id);
            new Chain(tables())
                    .append(
                            connection,
                            facts(
                                    id,
                                    "erasure",
                                    by,
                                    erased.name(),
                                    erased.name() + " " + key,
                                    Map.of(erased.name(), count),
                                    Optional.empty()));
            return count;
        });
    }

    /** A record that is gone can't be asked whether it is held; what the trail keeps of it may be. */
    private void refuseHeld(Connection connection, Table table, String key) throws SQLException {
        for (StoredRun hold : tables().holds(connection)) {
            if (hold.facts().table().equals(table.name())) {
                throw new InvalidRequestException(
                        FailureCode.BLOCKED,
                        "Records of " + table + " are held by " + hold.facts().actor() + " ("
                                + hold.facts().selection()
                                + "): " + hold.facts().reason().orElse("") + ". Whether " + key
                                + " is one of them can't be told from the trail.",
                        "Lift the hold " + hold.facts().runId() + " first.");
            }
        }
    }

    private void refuseThere(Connection connection, Table table, String key) {
        List<String> values = table.identity().size() == 1 ? List.of(key) : Arrays.asList(key.split(",", -1));
        Condition same = new Condition.Among(
                table.identity(),
                List.of(new KeyGiven.InOrder(values).resolve(table).values()));
        if (!planner.keys(connection, table, same, 1, false).isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.RUN_STATE,
                    table + " " + key + " is still there, so erasing it from the trail would hide nothing.",
                    "Delete it for good first.");
        }
    }

    @Override
    public long age(Instant before, By by) {
        return writing("age the audit trail", connection -> {
            tables().beginWriting(connection);
            List<StoredRun> old = new ArrayList<>();
            List<UUID> held = tables().holds(connection).stream()
                    .map(run -> run.facts().runId())
                    .toList();
            for (StoredRun run : tables().runs(connection, "1 = 1 order by place")) {
                boolean young = run.facts().at().compareTo(TrailTables.text(before)) >= 0;
                if (young || held.contains(run.facts().runId())) {
                    break;
                }
                old.add(run);
            }
            if (old.isEmpty()) {
                return 0L;
            }
            for (StoredRun run : old) {
                reader().remove(connection, run.facts().runId());
            }
            StoredRun last = old.get(old.size() - 1);
            new Chain(tables())
                    .append(
                            connection,
                            facts(
                                    UUID.randomUUID(),
                                    "ageing",
                                    by,
                                    "",
                                    last.place() + " " + last.digest(),
                                    Map.of("runs", (long) old.size()),
                                    Optional.empty()));
            return (long) old.size();
        });
    }

    @Override
    public RestorePlan planRestore(UUID run, By by) {
        return transactions.reading(connection -> plan(connection, run, Optional.empty(), by));
    }

    @Override
    public RestorePlan planRestore(UUID run, String table, String key, By by) {
        Only only = new Only(rules.catalog().table(table).name(), key);
        return transactions.reading(connection -> plan(connection, run, Optional.of(only), by));
    }

    private RestorePlan plan(Connection connection, UUID run, Optional<Only> only, By by) throws SQLException {
        Undone undone = undone(connection, run, only);
        Restorer restorer = restorer(connection, undone);
        restorer.look(new Looking());
        return plan(undone, by, restorer);
    }

    /** Looks and does nothing. */
    private static final class Looking implements Restorer.Work {
        @Override
        public void begin(List<String> tables) {
            // There is nothing to prepare.
        }

        @Override
        public void insert(Table table, List<Restorer.Row> rows) {
            // The restorer counts.
        }

        @Override
        public void put(Table table, List<Restorer.Row> rows) {
            // The restorer counts.
        }
    }

    /** One record, with what went with it. */
    private record Only(String table, String key) {
        static Optional<Only> of(RestorePlan plan) {
            return plan.only().map(record -> {
                int blank = record.indexOf(' ');
                return new Only(record.substring(0, blank), record.substring(blank + 1));
            });
        }

        @Override
        public String toString() {
            return table + " " + key;
        }
    }

    private Restorer restorer(Connection connection, Undone undone) throws SQLException {
        Optional<Chosen> chosen = Optional.empty();
        if (undone.only().isPresent()) {
            Only only = undone.only().get();
            chosen = Chosen.of(rules.catalog(), reader(), connection, undone.runs(), only.table(), only.key());
            if (chosen.isEmpty()) {
                throw new InvalidRequestException(
                        FailureCode.UNKNOWN_RUN,
                        "Run " + undone.told().facts().runId() + " knows nothing of " + only + ".",
                        "Ask the history what it did.");
            }
        }
        return new Restorer(rules, dialect, clock, reader(), connection, undone.runs(), chosen);
    }

    private RestorePlan plan(Undone undone, By by, Restorer restorer) {
        String fingerprint = Chain.digest(undone.runs() + " " + undone.only() + "\n" + restorer.counts() + "\n"
                + restorer.linksPutBack() + "\n" + restorer.conflicts());
        return new RestorePlan(
                told(undone.told()),
                undone.only().map(Only::toString),
                by,
                clock.instant(),
                restorer.counts(),
                restorer.linksPutBack(),
                restorer.left(),
                restorer.conflicts(),
                fingerprint);
    }

    /** What is undone: a run, or all runs of a bulk run, the last one first. */
    private record Undone(StoredRun told, List<UUID> runs, Optional<Only> only) {}

    private Undone undone(Connection connection, UUID run, Optional<Only> only) throws SQLException {
        List<StoredRun> found = tables().runs(
                        connection, "run_id = ? or part_of = ? order by place desc", run.toString(), run.toString());
        if (found.isEmpty()) {
            throw new InvalidRequestException(
                            FailureCode.UNKNOWN_RUN,
                            "The audit trail has no run " + run + ".",
                            "Ask the history which there are.")
                    .about("run", run);
        }
        StoredRun last = found.get(0);
        String kind = last.facts().kind();
        if (!kind.equals("deletion") && !kind.equals("purge")) {
            throw Restorer.refusal(
                    "Run " + run + " is no deletion but "
                            + (kind.equals("erasure") || kind.equals("ageing") ? "an " : "a ") + kind + ".",
                    kind.equals("restore") ? "To undo it, delete the records again." : "It can't be undone.");
        }
        List<StoredRun> restores = tables().runs(connection, "kind = 'restore' and about = ?", run.toString());
        Optional<StoredRun> whole = restores.stream()
                .filter(restore ->
                        restore.facts().selection().equals(last.facts().selection()))
                .findFirst();
        if (whole.isPresent()) {
            RunFacts restore = whole.get().facts();
            throw Restorer.refusal(
                    "Run " + run + " was undone by " + restore.actor() + " at " + restore.at() + ", with run "
                            + restore.runId() + ".",
                    "If its records are gone again, restore the run that removed them.");
        }
        return new Undone(last, found.stream().map(each -> each.facts().runId()).toList(), only);
    }

    @Override
    public RestoreOutcome restore(RestoreApproval approval) {
        RestorePlan plan = approval.plan();
        UUID undoing = plan.run().partOf().orElse(plan.run().runId());
        UUID id = UUID.randomUUID();
        return writing("restore run " + undoing, connection -> {
            tables().beginWriting(connection);
            new Chain(tables()).lock(connection);
            Undone undone = undone(connection, undoing, Only.of(plan));
            Restorer looking = restorer(connection, undone);
            looking.look(new Looking());
            if (!plan(undone, plan.by(), looking).fingerprint().equals(plan.fingerprint())) {
                throw new StalePlanException(List.of("something else now stands where the records of run " + undoing
                        + " stood, or less of them can come back"));
            }
            Restoration restoration = new Restoration(
                    rules, dialect, connection, new Recorder(rules.recording().orElseThrow(), dialect), id);
            restorer(connection, undone).look(restoration);
            restoration.end();
            StoredRun stored = new Chain(tables())
                    .append(
                            connection,
                            facts(
                                    id,
                                    "restore",
                                    plan.by(),
                                    plan.run().table(),
                                    plan.only().orElse(plan.run().selection()),
                                    plan.counts(),
                                    Optional.of(undoing)));
            return new RestoreOutcome(
                    id, undoing, plan.by(), Instant.parse(stored.facts().at()), plan.counts(), plan.putBack());
        });
    }

    @Override
    public List<DeletedRecord> deleted(String table, int most) {
        Table asked = rules.catalog().table(table);
        Criteria active = rules.active(asked)
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.RULES,
                        "Records of " + asked + " are never soft-deleted: the table has no marker.",
                        "Ask the history for those that are gone."));
        Condition inactive = new Condition.Except(Resolution.of(active, asked, rules.catalog(), clock));
        return transactions.reading(connection -> {
            List<RecordContent> records = planner.first(connection, asked, inactive, most);
            Map<String, Stored> last = lastMarks(connection, asked, records);
            List<DeletedRecord> deleted = new ArrayList<>();
            for (RecordContent record : records) {
                Optional<TrailRun> run = Optional.ofNullable(
                                last.get(record.key().text()))
                        .map(Stored::run)
                        .flatMap(id -> run(connection, id));
                Optional<Instant> at = run.map(TrailRun::at).or(() -> since(asked, record));
                deleted.add(new DeletedRecord(
                        record, run.map(TrailRun::runId), run.map(TrailRun::by), at, daysLeft(asked, at)));
            }
            return deleted;
        });
    }

    private Optional<TrailRun> run(Connection connection, String id) {
        try {
            return tables().runs(connection, "run_id = ?", id).stream()
                    .map(TrailHistory::told)
                    .findFirst();
        } catch (SQLException failure) {
            throw new DatabaseException("read the audit trail", "Nothing was changed.", failure);
        }
    }

    private Map<String, Stored> lastMarks(Connection connection, Table table, List<RecordContent> records)
            throws SQLException {
        Map<String, Stored> last = new HashMap<>();
        if (kept.isEmpty()) {
            return last;
        }
        for (RecordContent record : records) {
            List<Stored> marks = reader().read(
                            connection,
                            "action = 'marked' and table_name = ? and record_key = ?",
                            table.name(),
                            record.key().text());
            Map<String, Long> places = new LinkedHashMap<>();
            for (Stored mark : marks) {
                for (StoredRun run : tables().runs(connection, "run_id = ?", mark.run())) {
                    places.put(mark.run(), run.place());
                }
            }
            marks.stream()
                    .max(Comparator.comparing(mark -> places.getOrDefault(mark.run(), 0L)))
                    .ifPresent(mark -> last.put(record.key().text(), mark));
        }
        return last;
    }

    private Optional<Instant> since(Table table, RecordContent record) {
        Marker marker = rules.softness().markers().get(table);
        Optional<String> column = marker instanceof Marker.Flag
                ? Optional.ofNullable(rules.softness().tables().get(table)).flatMap(SoftDelete::when)
                : Optional.of(marker.column());
        return column.map(table::column)
                .map(Column::name)
                .map(name -> record.values().get(name))
                .flatMap(this::instant);
    }

    private Optional<Instant> instant(Object value) {
        return Stream.of(value)
                .map(time -> {
                    if (time instanceof LocalDate date) {
                        return date.atStartOfDay(clock.getZone()).toInstant();
                    }
                    if (time instanceof LocalDateTime local) {
                        return local.atZone(clock.getZone()).toInstant();
                    }
                    return time instanceof OffsetDateTime offset ? offset.toInstant() : null;
                })
                .filter(Objects::nonNull)
                .findFirst();
    }

    private Optional<Long> daysLeft(Table table, Optional<Instant> at) {
        return Optional.ofNullable(rules.softness().tables().get(table))
                .flatMap(SoftDelete::retention)
                .flatMap(retention ->
                        at.map(since -> since.atZone(clock.getZone()).plus(retention)))
                .map(end ->
                        Math.max(0, ChronoUnit.SECONDS.between(clock.instant().atZone(clock.getZone()), end)))
                .map(seconds -> (seconds + SECONDS_OF_A_DAY - 1) / SECONDS_OF_A_DAY);
    }
}
