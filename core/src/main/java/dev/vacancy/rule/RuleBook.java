package dev.vacancy.rule;

import dev.vacancy.internal.tables.OwnTable;
import dev.vacancy.internal.tables.OwnTables;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Stream;

/**
 * The rules that an application gives, before the catalog is known. What it doesn't mention is as the schema says.
 *
 * <pre>{@code
 * RuleBook.bySchema()
 *     .link("photo.hive_no", "hive")                                // the database doesn't declare this one
 *     .on("photo.hive_no", Clause.cascade())
 *     .on("treatment.hive_id",
 *         Clause.block("its withholding period runs").when("withhold_until >= today"),
 *         Clause.cascade())
 *     .marker("keeper", Marker.instant("left_at"))                  // whoever has left is not active
 * }</pre>
 *
 * @param links the links that the database doesn't declare
 * @param rules the rules on links
 * @param labels what people recognise records by
 * @param markers how tables mark soft-deleted records
 * @param drifting what never stands still
 * @param schemas schemas beside the connection's own
 * @param softTables the tables whose records are marked when they are deleted
 * @param versions the columns that count the changes of a record
 * @param modified the columns that say who changed a record last, and when
 * @param consents how hard people are asked before records of a table go
 * @param trail where the audit trail is kept; empty for none
 * @since 0.1
 */
public record RuleBook(
        List<UndeclaredLink> links,
        List<RuleOnLink> rules,
        List<LabelOfTable> labels,
        List<MarkerOfTable> markers,
        List<DriftingPlace> drifting,
        List<String> schemas,
        List<SoftTable> softTables,
        List<VersionColumn> versions,
        List<ModifiedColumns> modified,
        List<ConsentOfTable> consents,
        Optional<Trail> trail) {
    private static final String PROGRAM = "The rules";

    /** Keeps its own copies of the lists. */
    public RuleBook {
        links = List.copyOf(links);
        rules = List.copyOf(rules);
        labels = List.copyOf(labels);
        markers = List.copyOf(markers);
        drifting = List.copyOf(drifting);
        schemas = List.copyOf(schemas);
        softTables = List.copyOf(softTables);
        versions = List.copyOf(versions);
        modified = List.copyOf(modified);
        consents = List.copyOf(consents);
    }

    /**
     * How hard people are asked before records of a table go.
     *
     * @param origin where that is said, for messages
     * @param table the table
     * @param rule how hard
     */
    public record ConsentOfTable(String origin, String table, ConsentRule rule) {}

    /**
     * A table whose records are marked when they are deleted.
     *
     * @param origin where that is said, for messages
     * @param table the table
     * @param soft how
     */
    public record SoftTable(String origin, String table, SoftDelete soft) {}

    /**
     * A column that counts the changes of a record.
     *
     * @param origin where that is said, for messages
     * @param place {@code table.column}
     */
    public record VersionColumn(String origin, String place) {}

    /**
     * The columns that say who changed a record last, and when.
     *
     * @param origin where that is said, for messages
     * @param table the table
     * @param by the column for the actor's name; empty for none
     * @param at the column for the time; empty for none
     */
    public record ModifiedColumns(String origin, String table, Optional<String> by, Optional<String> at) {}

    /**
     * Something that never stands still.
     *
     * @param origin where this is said, such as a file and a line
     * @param place a table, or {@code table.column}
     */
    public record DriftingPlace(String origin, String place) {}

    /**
     * How a table marks its soft-deleted records.
     *
     * @param origin where that is said, for messages, such as {@code vacancy.yaml, line 12}
     * @param table the table
     * @param marker the marker
     */
    public record MarkerOfTable(String origin, String table, Marker marker) {}

    /**
     * What people recognise a table's records by.
     *
     * @param origin where that is said, for messages, such as {@code vacancy.yaml, line 12}
     * @param table the table
     * @param template text with columns in braces, such as {@code {name} ({mark})}
     */
    public record LabelOfTable(String origin, String table, String template) {}

    /**
     * A link that the database doesn't declare.
     *
     * @param origin where that is said, for messages, such as {@code vacancy.yaml, line 12}
     * @param foreignKey where the foreign key stands: {@code table.column} or {@code table.(column, column)}
     * @param parent the parent's table, or {@code table.column} for a unique key of it
     */
    public record UndeclaredLink(String origin, String foreignKey, String parent) {}

    /**
     * The rule on a link.
     *
     * @param origin where that is said, for messages
     * @param link where the link's foreign key stands
     * @param clauses the clauses, in their order
     */
    public record RuleOnLink(String origin, String link, List<Clause> clauses) {
        /** Keeps its own copy of the clauses. */
        public RuleOnLink {
            clauses = List.copyOf(clauses);
        }
    }

    /**
     * Starts with the rules that the schema states.
     *
     * @return a book without any rule of its own
     */
    public static RuleBook bySchema() {
        return new Draft().book();
    }

    /** A book that is being written. */
    private static final class Draft {
        private final List<UndeclaredLink> links = new ArrayList<>();
        private final List<RuleOnLink> rules = new ArrayList<>();
        private final List<LabelOfTable> labels = new ArrayList<>();
        private final List<MarkerOfTable> markers = new ArrayList<>();
        private final List<DriftingPlace> drifting = new ArrayList<>();
        private final List<String> schemas = new ArrayList<>();
        private final List<SoftTable> softTables = new ArrayList<>();
        private final List<VersionColumn> versions = new ArrayList<>();
        private final List<ModifiedColumns> modified = new ArrayList<>();
        private final List<ConsentOfTable> consents = new ArrayList<>();
        private Optional<Trail> trail = Optional.empty();

        static Draft of(RuleBook book) {
            Draft draft = new Draft();
            draft.links.addAll(book.links);
            draft.rules.addAll(book.rules);
            draft.labels.addAll(book.labels);
            draft.markers.addAll(book.markers);
            draft.drifting.addAll(book.drifting);
            draft.schemas.addAll(book.schemas);
            draft.softTables.addAll(book.softTables);
            draft.versions.addAll(book.versions);
            draft.modified.addAll(book.modified);
            draft.consents.addAll(book.consents);
            draft.trail = book.trail;
            return draft;
        }

        RuleBook book() {
            return new RuleBook(
                    links, rules, labels, markers, drifting, schemas, softTables, versions, modified, consents, trail);
        }
    }

    private RuleBook with(Consumer<Draft> change) {
        Draft draft = Draft.of(this);
        change.accept(draft);
        return draft.book();
    }

    /**
     * Adds a link that the database doesn't declare. It needs a rule, as there is none in the schema.
     *
     * @param foreignKey where the foreign key stands: {@code table.column} or {@code table.(column, column)}
     * @param parent the parent's table, or {@code table.column} for a unique key of it
     * @return the larger book
     */
    public RuleBook link(String foreignKey, String parent) {
        return with(draft -> draft.links.add(new UndeclaredLink(PROGRAM, foreignKey, parent)));
    }

    /**
     * Gives the rule on a link.
     *
     * @param link where its foreign key stands, such as {@code treatment.hive_id}
     * @param clauses the clauses, in their order; children that none applies to are treated as the schema says
     * @return the larger book
     */
    public RuleBook on(String link, Clause... clauses) {
        return with(draft -> draft.rules.add(new RuleOnLink(PROGRAM, link, Arrays.asList(clauses))));
    }

    /**
     * Says what people recognise a table's records by, instead of its first text column.
     *
     * @param table the table
     * @param template text with columns of the table in braces, such as {@code {name} ({mark})}
     * @return the larger book
     */
    public RuleBook label(String table, String template) {
        return with(draft -> draft.labels.add(new LabelOfTable(PROGRAM, table, template)));
    }

    /**
     * Says how a table marks its soft-deleted records. A record that isn't active can't take over the children of
     * another.
     *
     * @param table the table
     * @param marker the marker
     * @return the larger book
     */
    public RuleBook marker(String table, Marker marker) {
        return with(draft -> draft.markers.add(new MarkerOfTable(PROGRAM, table, marker)));
    }

    /**
     * Adds what never stands still: it is left out of the fingerprint, so that an approval isn't stale before anybody can
     * use it, and told exactly by the outcome.
     *
     * @param places tables such as {@code reading}, or columns such as {@code hive.last_reading_at}
     * @return the larger book
     */
    public RuleBook drifting(String... places) {
        return with(draft -> {
            for (String place : places) {
                draft.drifting.add(new DriftingPlace(PROGRAM, place));
            }
        });
    }

    /**
     * Adds schemas beside the connection's own, whose tables belong to the catalog too. Tables that links connect with it
     * belong to it anyway.
     *
     * @param names the schemas as the database stores their names
     * @return the larger book
     */
    public RuleBook schemas(String... names) {
        return with(draft -> draft.schemas.addAll(Arrays.asList(names)));
    }

    /**
     * Has the records of a table marked when they are deleted. It needs a {@link #marker}.
     *
     * @param table the table
     * @return the larger book
     */
    public RuleBook soft(String table) {
        return soft(table, SoftDelete.usual());
    }

    /**
     * Does the same, and says what is written beside the marker, what goes for good all the same, and how long the rest is
     * kept.
     *
     * @param table the table
     * @param soft how
     * @return the larger book
     */
    public RuleBook soft(String table, SoftDelete soft) {
        return with(draft -> draft.softTables.add(new SoftTable(PROGRAM, table, soft)));
    }

    /**
     * Names columns that count the changes of a record, so that whoever holds an older state of it notices: they are counted up
     * when a record is marked, detached or reassigned.
     *
     * @param places such as {@code keeper.row_version}
     * @return the larger book
     */
    public RuleBook version(String... places) {
        return with(draft -> {
            for (String place : places) {
                draft.versions.add(new VersionColumn(PROGRAM, place));
            }
        });
    }

    /**
     * Names the columns that say who changed a record last, and when: they are set on a parent that stays when a child of it is
     * marked.
     *
     * @param table the parent's table
     * @param byColumn the column for the actor's name
     * @param atColumn the column for the time
     * @return the larger book
     */
    public RuleBook modified(String table, String byColumn, String atColumn) {
        return with(draft ->
                draft.modified.add(new ModifiedColumns(PROGRAM, table, Optional.of(byColumn), Optional.of(atColumn))));
    }

    /**
     * Says how hard people are asked before records of a table go: those that are selected, or go along with others.
     *
     * @param table the table
     * @param rule how hard; without any, a selected record takes a yes
     * @return the larger book
     */
    public RuleBook consent(String table, ConsentRule rule) {
        return with(draft -> draft.consents.add(new ConsentOfTable(PROGRAM, table, rule)));
    }

    /**
     * Writes down what each run does, in the same transaction.
     *
     * @param where where the trail is kept
     * @return the larger book
     */
    public RuleBook trail(Trail where) {
        return with(draft -> draft.trail = Optional.of(where));
    }

    /**
     * Returns the tables that Vacancy keeps for itself, which belong to no catalog: those of the trail, of bulk runs, of
     * redeemed approvals and of scheduled runs.
     *
     * @return their names
     */
    public List<String> ownTables() {
        Trail kept = trail.orElseGet(Trail::usual);
        return Stream.concat(
                        Stream.of(kept.runs(), kept.entries()),
                        Stream.of(OwnTables.BULK_RUN, OwnTables.BULK_RECORD, OwnTables.REDEEMED, OwnTables.SCHEDULED)
                                .map(OwnTable::name))
                .toList();
    }
}
