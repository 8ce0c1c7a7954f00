package dev.vacancy.cli.selecting;

import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.catalog.Table;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.schedule.ScheduledDeletion;
import dev.vacancy.schedule.Timing;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Consumer;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** What to delete, for whom and why. */
public final class SelectionOptions {
    private static final int LONGEST_NAME = 100;

    @Parameters(paramLabel = "TABLE", description = "The table that holds the records.")
    private String table;

    @ArgGroup
    private Picked picked = new Picked();

    @Option(
            names = "--expect",
            paramLabel = "N",
            description = "Refuse unless the selection matches exactly this many records.")
    private Long expected;

    @Option(
            names = "--at-most",
            paramLabel = "N",
            description = "Refuse if the selection matches more records than this.")
    private Long most;

    @Mixin
    private HandOverOptions handOver;

    @Option(
            names = "--skip-blocked",
            description = "Leave out the records that others forbid to delete, instead of failing as a whole.")
    private boolean skipBlocked;

    @Option(names = "--hard", description = "Delete for good where the rule of the table is to mark its records only.")
    private boolean hard;

    @Option(names = "--as", paramLabel = "NAME", description = "Who wants the deletion; the system's user if left out.")
    private String actor = System.getProperty("user.name");

    @Option(names = "--reason", paramLabel = "TEXT", description = "Why.")
    private String reason;

    /** One way of saying which records, not several. */
    static final class Picked {
        @Option(
                names = "--key",
                paramLabel = "KEY",
                description = "The key of a record; once for each. A composite key is column=value,column=value.")
        private List<String> keys = List.of();

        @Option(
                names = "--where",
                paramLabel = "TEXT",
                description = "What the records have in common, as in SQL: \"name like 'Bramble%%'\","
                        + " \"inspected_on < today - 90 days\"; hive.name is a parent's column.")
        private List<String> criteria = List.of();

        @Option(
                names = "--keys-from",
                paramLabel = "FILE",
                description = "A CSV file with the keys; its header names their columns. - is standard input.")
        private Path file;

        @Option(
                names = "--all-records",
                description = "All records of the table. The question is answered by typing their number.")
        private boolean all;

        private Selection of(Table table, Consumer<String> remarks) {
            if (all) {
                return Selection.of(table.name()).allRecords();
            }
            if (file != null) {
                KeyFile given = KeyFile.read(file, table);
                given.remarks().forEach(remarks);
                return Selection.of(table.name()).keys(given.keys());
            }
            requireAny(table.name());
            if (!criteria.isEmpty()) {
                return Selection.of(table.name()).where(Criteria.parse(only(criteria)));
            }
            List<Object> given = new ArrayList<>();
            for (String key : keys) {
                given.add(table.identity().size() > 1 ? KeyText.composite(table, key) : List.of(key));
            }
            return Selection.of(table.name()).keys(given);
        }

        private void requireAny(String name) {
            if (keys.isEmpty() && criteria.isEmpty()) {
                throw new InvalidRequestException(
                        FailureCode.NOTHING_SELECTED,
                        "Nothing says which records of " + name + "; that never means all of them.",
                        "Name them with --key KEY or --keys-from FILE, or say what they have in common with --where TEXT.");
            }
        }

        private static String only(List<String> criteria) {
            if (criteria.size() > 1) {
                throw new InvalidRequestException(
                        FailureCode.CRITERIA_SYNTAX,
                        "--where was given " + criteria.size() + " times.",
                        "Join the conditions by AND or OR in one.");
            }
            return criteria.get(0);
        }
    }

    /** Tells whether nothing says which records. */
    public boolean isOpen() {
        return !picked.all && picked.file == null && picked.keys.isEmpty() && picked.criteria.isEmpty();
    }

    /** Lets somebody pick the records. */
    public PickingList list(Vacancy vacancy, Surroundings surroundings) {
        return new PickingList(vacancy, vacancy.catalog().table(table), By.user(actor), surroundings);
    }

    /** The same selection, to be made anew whenever it is due. */
    public ScheduledDeletion scheduled(String name, Timing timing) {
        if (!picked.keys.isEmpty()
                || picked.file != null
                || expected != null
                || skipBlocked
                || hard
                || !handOver.isEmpty()) {
            throw ToolException.wrongUsage(
                    "A scheduled deletion selects anew each time, and can't have --key, --keys-from, --expect,"
                            + " --skip-blocked, --hard or --reassign.",
                    "Say by --where what the records will have in common, and by --at-most how many there may be; what is"
                            + " blocked is left out.");
        }
        if (!picked.all) {
            picked.requireAny(table);
        }
        Optional<String> where = picked.all ? Optional.empty() : Optional.of(Picked.only(picked.criteria));
        return new ScheduledDeletion(
                name == null ? words(where) : name,
                table,
                where,
                By.user(actor).because(reason),
                most == null ? OptionalLong.empty() : OptionalLong.of(most),
                timing);
    }

    private String words(Optional<String> where) {
        String words = where.map(text -> table + " where " + text).orElse("all records of " + table);
        return words.substring(0, Math.min(LONGEST_NAME, words.length()));
    }

    /**
     * Plans what these options ask for.
     *
     * @param remarks takes what should be known of the given keys
     */
    public Plan plan(Vacancy vacancy, Consumer<String> remarks) {
        return plan(vacancy, picked.of(vacancy.catalog().table(table), remarks));
    }

    /** Plans the same for records that were picked otherwise. */
    public Plan plan(Vacancy vacancy, Selection asked) {
        Selection selection = handOver.on(asked, vacancy);
        if (skipBlocked) {
            selection = selection.skippingBlocked();
        }
        if (hard) {
            selection = selection.hard();
        }
        if (most != null) {
            selection = selection.atMost(most);
        }
        return vacancy.plan(
                expected == null ? selection : selection.expecting(expected),
                By.user(actor).because(reason));
    }
}
