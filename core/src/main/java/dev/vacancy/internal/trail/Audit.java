package dev.vacancy.internal.trail;

import dev.vacancy.internal.trail.EntryReader.Stored;
import dev.vacancy.internal.trail.TrailTables.StoredRun;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

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
    private final Map<String, String> wordless = new LinkedHashMap<>();
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
        Optional<StoredRun> ageing = tables.runs(connection, "kind = 'ageing' order by place desc limit 1").stream()
                .findFirst();
        if (ageing.isPresent()) {
            String[] until = ageing.get().facts().selection().split(" ", -1);
            lastPlace = Long.parseLong(until[0]);
            lastDigest = until[1];
        }
        Map<String, String> erasures = new HashMap<>();
        boolean kept = keptPlace == 0 || (keptPlace == lastPlace && keptDigest.equals(lastDigest));
        long place = lastPlace;
        while (true) {
            List<StoredRun> portion = tables.runs(connection, "place > ? order by place limit 200", place);
            if (portion.isEmpty()) {
                break;
            }
            for (StoredRun run : portion) {
                look(connection, run);
                kept |= run.place() == keptPlace && run.digest().equals(keptDigest);
                if (run.facts().kind().equals("erasure")) {
                    erasures.put(run.facts().runId().toString(), run.facts().selection());
                }
            }
            place = portion.get(portion.size() - 1).place();
        }
        if (!kept && keptPlace >= firstPlace(connection)) {
            fault("The run at place " + keptPlace + " isn't the one that stood there when the head was kept.");
        }
        strangers(connection, erasures);
        wordless.forEach((name, erasure) -> {
            if (!erasures.containsKey(erasure)) {
                fault("The words of the selection of " + name.substring(0, 1).toLowerCase(Locale.ROOT)
                        + name.substring(1) + " are gone, and no erasure tells of it.");
            }
        });
    }

    private long firstPlace(Connection connection) throws SQLException {
        List<StoredRun> first = tables.runs(connection, "place > 0 order by place limit 1");
        return first.isEmpty() ? 0 : first.get(0).place();
    }

    private void look(Connection connection, StoredRun run) throws SQLException {
        runs++;
        String name = "Run " + run.facts().runId() + " of " + run.facts().at();
        if (run.place() != lastPlace + 1) {
            fault((run.place() - lastPlace - 1) + " runs before place " + run.place() + " are missing.");
        } else if (!run.previous().equals(lastDigest)) {
            fault(name + " doesn't follow the one before it: one of the two was changed or exchanged.");
        }
        if (run.words().erasedBy() != null) {
            wordless.put(name, run.words().erasedBy());
        }
        if (!run.expected().equals(run.digest()) || !run.isSelectionIntact()) {
            fault(name + " was changed.");
        }
        lastPlace = run.place();
        lastDigest = run.digest();
        MessageDigest all = Chain.sha256();
        long[] count = {0};
        for (EntryReader.StepOf step : reader.steps(connection, run.facts().runId())) {
            long[] expected = {1};
            reader.each(connection, run.facts().runId(), step.number(), portion -> {
                for (Stored entry : portion) {
                    count[0]++;
                    all.update((entry.digest() + "\n").getBytes(StandardCharsets.UTF_8));
                    look(entry, expected[0]++);
                }
            });
        }
        entries += count[0];
        boolean same = HexFormat.of().formatHex(all.digest()).equals(run.entriesDigest());
        if (count[0] != run.entries()) {
            fault(name + " had " + run.entries() + " entries and has " + count[0] + " now.");
        } else if (!same) {
            fault("The entries of " + name.substring(0, 1).toLowerCase(Locale.ROOT) + name.substring(1)
                    + " aren't those that it had.");
        }
    }

    private void look(Stored entry, long expected) {
        String name = "Entry " + entry.step() + "/" + entry.place() + " of run " + entry.run() + " (" + entry.table()
                + " " + entry.key() + ")";
        if (entry.place() != expected) {
            fault("An entry before " + name.substring(0, 1).toLowerCase(Locale.ROOT) + name.substring(1)
                    + " is missing.");
        }
        if (!entry.isIntact()) {
            fault(name + " was changed.");
        }
        if (entry.content() == null) {
            erased++;
        } else if (!entry.isContentIntact()) {
            fault("The content of " + name.substring(0, 1).toLowerCase(Locale.ROOT) + name.substring(1)
                    + " was changed.");
        }
    }

    /** Entries that no run has, and content that went without a run that says so. */
    private void strangers(Connection connection, Map<String, String> erasures) throws SQLException {
        String sql = "select distinct run_id from " + tables.entries() + " e where not exists (select 1 from "
                + tables.runs() + " r where r.run_id = e.run_id)";
        for (String run : texts(connection, sql)) {
            fault("Entries were slipped in, or their run was removed: " + run + ".");
        }
        String gone =
                "select distinct erased_by, table_name, record_key from " + tables.entries() + " where content is null";
        try (PreparedStatement query = connection.prepareStatement(gone);
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                String record = row.getString(2) + " " + row.getString(3);
                if (!record.equals(erasures.get(row.getString(1)))) {
                    fault("The content of entries of " + record + " is gone, and no erasure tells of it.");
                }
            }
        }
    }

    private static List<String> texts(Connection connection, String sql) throws SQLException {
        List<String> texts = new ArrayList<>();
        try (PreparedStatement query = connection.prepareStatement(sql);
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                texts.add(row.getString(1));
            }
        }
        return texts;
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
