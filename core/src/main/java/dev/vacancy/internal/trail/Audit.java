package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import java.security.MessageDigest;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalLong;
import tools.jackson.core.JacksonException;

/**
 * Holds a whole trail against its own digests.
 *
 * @since 0.1
 */
public final class Audit {
    private static final int MOST_FAULTS = 1_000;

    private final TrailTables tables;
    private final EntryReader reader;
    private final List<String> faults = new ArrayList<>();
    private final Map<Long, Long> erasedEntries = new LinkedHashMap<>();
    private final Map<Long, Long> erasedWords = new LinkedHashMap<>();
    private boolean reachesBack = true;
    private long runs;
    private long entries;
    private long erased;
    private long lastPlace;
    private String lastDigest = TrailTables.NOTHING;

    /**
     * Looks at nothing yet.
     *
     * @param tables the tables of the trail
     */
    public Audit(TrailTables tables) {
        this.tables = tables;
        this.reader = new EntryReader(tables);
    }

    /**
     * Looks at the whole trail.
     *
     * @param connection a connection in a transaction that sees one state
     * @param keptPlace the place where the chain ended before, 0 if nobody kept it
     * @param keptDigest the digest that stood there
     * @throws SQLException when the database doesn't answer
     */
    public void look(Connection connection, long keptPlace, String keptDigest) throws SQLException {
        if (!new TrailDdl(tables).hasBeginning(connection)) {
            fault("The row at place 0, where the chain begins, was changed.");
        }
        Optional<StoredRun> ageing = lastAgeing(connection);
        if (ageing.isPresent()) {
            PrunedRun until = PrunedRun.of(ageing.get().facts().selection());
            lastPlace = until.place();
            lastDigest = until.digest();
            reachesBack = false;
        }
        boolean kept = keptPlace == 0;
        for (OptionalLong place = next(connection); place.isPresent(); place = next(connection)) {
            Optional<StoredRun> run = readable(connection, "place = ?", place.getAsLong());
            if (run.isPresent()) {
                look(connection, run.get());
                kept |= run.get().place() == keptPlace && run.get().digest().equals(keptDigest);
            } else {
                fault("The run at place " + place.getAsLong() + " was changed: it can't be read any more.");
                lastPlace = place.getAsLong();
                lastDigest = "";
            }
        }
        if (!kept) {
            fault(withoutHead(connection, new PrunedRun(keptPlace, keptDigest)));
        }
        strangers(connection);
        erasures(connection);
    }

    private Optional<StoredRun> lastAgeing(Connection connection) throws SQLException {
        try {
            return tables.runs(connection, "kind = 'ageing' order by place desc limit 1").stream()
                    .filter(StoredRun::isIntact)
                    .findFirst();
        } catch (IllegalArgumentException | JacksonException changed) {
            return Optional.empty();
        }
    }

    /** Whoever could write a whole trail anew could also write down that the head was aged away. */
    private String withoutHead(Connection connection, PrunedRun head) throws SQLException {
        Fragment aged = Fragment.of(Statements.alias() + ".action = 'aged'");
        for (StoredEntry entry :
                new EntriesByKey(reader).withKeys(connection, List.of(String.valueOf(head.place())), aged)) {
            Optional<StoredRun> teller = readable(connection, "run_no = ?", entry.run());
            if (head.isToldBy(entry) && teller.isPresent()) {
                RunFacts facts = teller.get().facts();
                return "The run at place " + head.place() + ", where the head was kept, isn't in the trail any more: "
                        + facts.actor() + " removed it at " + facts.at() + " ("
                        + facts.kind().word() + ", run "
                        + facts.runId() + "). If that was meant to be, keep the head of today instead.";
            }
        }
        return "The run at place " + head.place() + " isn't the one that stood there when the head was kept.";
    }

    private OptionalLong next(Connection connection) throws SQLException {
        try (PreparedStatement query = connection.prepareStatement(
                "select min(place) from " + tables.runs() + " where place > 0 and place > ?")) {
            query.setLong(1, lastPlace);
            try (ResultSet row = query.executeQuery()) {
                row.next();
                long place = row.getLong(1);
                return row.wasNull() ? OptionalLong.empty() : OptionalLong.of(place);
            }
        }
    }

    private Optional<StoredRun> readable(Connection connection, String where, long value) throws SQLException {
        try {
            return tables.runs(connection, where, value).stream().findFirst();
        } catch (IllegalArgumentException | NullPointerException | ClassCastException | JacksonException changed) {
            return Optional.empty();
        }
    }

    private void look(Connection connection, StoredRun run) throws SQLException {
        runs++;
        String name = "Run " + run.facts().runId() + " of " + run.facts().at();
        if (run.place() != lastPlace + 1) {
            fault((run.place() - lastPlace - 1) + " runs before place " + run.place() + " are missing.");
        } else if (!run.previous().equals(lastDigest)) {
            fault(name + " doesn't follow the one before it: one of the two was changed or exchanged.");
        }
        if (!run.isIntact() && !isAsMasked(connection, run)) {
            fault(name + " was changed.");
        }
        if (run.words().erasedBy() != null) {
            erasedWords.merge(run.words().erasedBy(), 1L, Long::sum);
        }
        lastPlace = run.place();
        lastDigest = run.digest();
        entries(connection, run, name);
    }

    /** What a masking has left has a digest of its own, which the masking tells. */
    private boolean isAsMasked(Connection connection, StoredRun run) throws SQLException {
        Optional<StoredEntry> pointer = run.words().erasedBy() == null
                ? Optional.empty()
                : reader.pointer(connection, run.words().erasedBy(), Reference.toRun(run.number()));
        return pointer.filter(entry -> entry.word().equals(Action.MASKED.word()))
                .filter(known -> run.remains().equals(known.content()) && run.isSound())
                .isPresent();
    }

    private void entries(Connection connection, StoredRun run, String name) throws SQLException {
        MessageDigest all = Chain.sha256();
        long[] count = {0};
        int[] step = {0};
        long[] expected = {1};
        reader.eachOf(connection, run.number(), portion -> {
            for (StoredEntry entry : portion) {
                if (entry.step() != step[0]) {
                    step[0] = entry.step();
                    expected[0] = 1;
                }
                count[0]++;
                all.update(entry.digest().duplicate());
                look(entry, expected[0]++);
                if (entry.word().equals(Action.ERASED.word()) || entry.word().equals(Action.MASKED.word())) {
                    pointed(connection, entry, run.place());
                }
            }
        });
        entries += count[0];
        boolean same = HexFormat.of().formatHex(all.digest()).equals(run.entriesDigest());
        if (count[0] != run.entries()) {
            fault(name + " had " + run.entries() + " entries and has " + count[0] + " now.");
        } else if (!same) {
            fault("The entries of " + decapitalised(name) + " aren't those that it had.");
        }
    }

    private void look(StoredEntry entry, long expected) {
        String name = name(entry);
        if (entry.place() != expected) {
            fault("An entry before " + decapitalised(name) + " is missing.");
        }
        if (!entry.isIntact()) {
            fault(name + " was changed.");
        }
        if (entry.erasedBy() != null) {
            erased++;
        }
    }

    private static String name(StoredEntry entry) {
        return "Entry " + entry.step() + "/" + entry.place() + " of run no. " + entry.run() + " (" + entry.table() + " "
                + entry.keyText() + ")";
    }

    /** What an erasure says that it has erased has to be erased, by it, and to have kept as much of its key. */
    private void pointed(Connection connection, StoredEntry pointer, long place) throws SQLException {
        Reference about = pointer.about();
        if (about == null) {
            fault(name(pointer) + " says that something was erased, and not what.");
            return;
        }
        Long eraser = pointer.run();
        if (about.isToRun()) {
            Optional<StoredRun> run = readable(connection, "run_no = ?", about.run());
            boolean recorded =
                    run.isPresent() && eraser.equals(run.get().words().erasedBy());
            count(erasedWords, eraser, recorded);
            Long later = run.map(found -> found.words().erasedBy()).orElse(null);
            if (!recorded && (run.isPresent() || reachesBack) && !isSuperseded(connection, about, later, place)) {
                fault("The words of the selection of the run no. " + about.run() + " were erased and are there again.");
            }
            return;
        }
        Optional<StoredEntry> entry = reader.at(connection, about);
        boolean recorded = entry.isPresent() && eraser.equals(entry.get().erasedBy());
        count(erasedEntries, eraser, recorded);
        Long later = entry.map(StoredEntry::erasedBy).orElse(null);
        if (!recorded && isSuperseded(connection, about, later, place)) {
            return;
        }
        if (entry.isPresent() ? !recorded : reachesBack) {
            fault("What was erased from entry " + about + " is there again, or the entry is gone.");
        } else if (recorded && !isWhatRemained(entry.get(), pointer)) {
            fault(name(entry.get()) + " was changed.");
        }
    }

    /** What was masked can be masked once more, or erased; the last one tells of what is left. */
    private boolean isSuperseded(Connection connection, Reference about, Long later, long place) throws SQLException {
        if (later == null) {
            return false;
        }
        Optional<StoredRun> run = readable(connection, "run_no = ?", later);
        return run.isPresent()
                && run.get().place() > place
                && reader.pointer(connection, later, about).isPresent();
    }

    private static boolean isWhatRemained(StoredEntry erased, StoredEntry pointer) {
        return Objects.equals(erased.key(), pointer.key())
                && erased.table().equals(pointer.table())
                && erased.remains().equals(pointer.content());
    }

    private static void count(Map<Long, Long> erasures, Long eraser, boolean recorded) {
        if (recorded) {
            erasures.merge(eraser, -1L, Long::sum);
        }
    }

    /** Each erasure is told once by itself and once by what it has erased. */
    private void erasures(Connection connection) throws SQLException {
        String sql = "select erased_by, count(*) from " + tables.entries()
                + " where erased_by is not null group by erased_by";
        try (PreparedStatement query = connection.prepareStatement(sql);
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                erasedEntries.merge(row.getLong(1), row.getLong(2), Long::sum);
            }
        }
        unequal(erasedEntries, "What entries said of their records");
        unequal(erasedWords, "The words of the selections of runs");
    }

    private void unequal(Map<Long, Long> erasures, String what) {
        long untold = erasures.values().stream().mapToLong(Math::abs).sum();
        if (untold > 0) {
            fault(what + " was erased, " + untold + " times, and no erasure tells of it.");
        }
    }

    /** Entries that no run has. */
    private void strangers(Connection connection) throws SQLException {
        String sql = "select distinct run_no from " + tables.entries() + " e where not exists (select 1 from "
                + tables.runs() + " r where r.run_no = e.run_no and r.place > 0)";
        try (PreparedStatement query = connection.prepareStatement(sql);
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                fault("Entries were slipped in, or their run was removed: no. " + row.getLong(1) + ".");
            }
        }
    }

    private static String decapitalised(String name) {
        return Character.toLowerCase(name.charAt(0)) + name.substring(1);
    }

    private void fault(String what) {
        if (faults.size() < MOST_FAULTS) {
            faults.add(what);
        }
    }

    /**
     * Returns how many runs were looked at.
     *
     * @return the number
     */
    public long runs() {
        return runs;
    }

    /**
     * Returns how many entries were looked at.
     *
     * @return the number
     */
    public long entries() {
        return entries;
    }

    /**
     * Returns how many entries have no content any more.
     *
     * @return the number
     */
    public long erased() {
        return erased;
    }

    /**
     * Returns the place of the last run.
     *
     * @return 0 before the first
     */
    public long lastPlace() {
        return lastPlace;
    }

    /**
     * Returns what the last run bears.
     *
     * @return its digest
     */
    public String lastDigest() {
        return lastDigest;
    }

    /**
     * Returns what was found.
     *
     * @return sentences; none if all is as it was written
     */
    public List<String> faults() {
        return List.copyOf(faults);
    }
}
