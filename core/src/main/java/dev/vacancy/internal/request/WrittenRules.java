package dev.vacancy.internal.request;

import dev.vacancy.rule.Clause;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.FollowUp;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.ServerRule;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.TraceRule;
import dev.vacancy.rule.Trail;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * The rules that an application gives, as it gave them, each with where it says so.
 *
 * @param links the links that the database doesn't declare
 * @param rules the rules on links
 * @param owned the links whose parents go with their last child
 * @param labels what people recognise records by
 * @param markers how tables mark soft-deleted records
 * @param ignoredChanges what never stands still
 * @param schemas schemas beside the connection's own
 * @param softTables the tables whose records are marked when they are deleted
 * @param versions the columns that count the changes of a record
 * @param modified the columns that say who changed a record last, and when
 * @param consents how hard people are asked before records of a table go
 * @param trail where the audit trail is kept; empty for none
 * @param followUps what follows outside of the database
 * @param traces what is known of persons, and what an erasure does with it
 * @param serverRules what is known of the servers that the database consists of
 * @param derivation works out what else there is, once the catalog is known
 */
public record WrittenRules(
        List<UndeclaredLink> links,
        List<RuleOnLink> rules,
        List<OwnedParent> owned,
        List<LabelOfTable> labels,
        List<MarkerOfTable> markers,
        List<IgnoredPlace> ignoredChanges,
        List<String> schemas,
        List<SoftTable> softTables,
        List<VersionColumn> versions,
        List<ModifiedColumns> modified,
        List<ConsentOfTable> consents,
        Optional<Trail> trail,
        List<FollowUpOfTable> followUps,
        List<TraceOfTable> traces,
        Set<ServerRule> serverRules,
        RuleDerivation derivation)
        implements RuleBook {
    /** None but those of the schema. */
    public static final WrittenRules NONE = new Draft().book();

    private static final String PROGRAM = "The rules";

    /** Keeps its own copies of the lists. */
    public WrittenRules {
        links = List.copyOf(links);
        rules = List.copyOf(rules);
        owned = List.copyOf(owned);
        labels = List.copyOf(labels);
        markers = List.copyOf(markers);
        ignoredChanges = List.copyOf(ignoredChanges);
        schemas = List.copyOf(schemas);
        softTables = List.copyOf(softTables);
        versions = List.copyOf(versions);
        modified = List.copyOf(modified);
        consents = List.copyOf(consents);
        followUps = List.copyOf(followUps);
        traces = List.copyOf(traces);
        serverRules = Set.copyOf(serverRules);
    }

    /**
     * Returns what stands in a book.
     *
     * @param book the book
     * @return the same
     */
    public static WrittenRules of(RuleBook book) {
        return (WrittenRules) book;
    }

    /**
     * What follows outside of the database when something happens to records of a table.
     *
     * @param origin where that is said, for messages
     * @param table the table
     * @param followUp what follows
     */
    public record FollowUpOfTable(String origin, String table, FollowUp followUp) {}

    /**
     * What is known of the persons that records of a table stand for.
     *
     * @param origin where that is said, for messages
     * @param table the table
     * @param trace what is looked for, and what an erasure does with it
     */
    public record TraceOfTable(String origin, String table, TraceRule trace) {}

    /**
     * A link whose parent goes with its last child.
     *
     * @param origin where that is said, for messages
     * @param link where the link's foreign key stands
     */
    public record OwnedParent(String origin, String link) {}

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
    public record IgnoredPlace(String origin, String place) {}

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
     * Returns the same book with rules that are worked out once the catalog is known.
     *
     * @param added works them out
     * @return the larger book
     */
    public WrittenRules deriving(RuleDerivation added) {
        return with(draft -> draft.derivation = added);
    }

    /**
     * Returns all rules of this book and of another, as they stand.
     *
     * @param other whose rules are added
     * @return the larger book, from which nothing is derived any more
     */
    public WrittenRules settledWith(WrittenRules other) {
        return with(draft -> {
            draft.links.addAll(other.links);
            draft.rules.addAll(other.rules);
            draft.owned.addAll(other.owned);
            draft.markers.addAll(other.markers);
            draft.softTables.addAll(other.softTables);
            draft.versions.addAll(other.versions);
            draft.derivation = RuleDerivation.NONE;
        });
    }

    /**
     * Tells where the rules come from that a derivation may give.
     *
     * @return the origins of links, of rules on them, owned parents, markers, soft tables and versions
     */
    public Set<String> origins() {
        return Stream.of(
                        links.stream().map(UndeclaredLink::origin),
                        rules.stream().map(RuleOnLink::origin),
                        owned.stream().map(OwnedParent::origin),
                        markers.stream().map(MarkerOfTable::origin),
                        softTables.stream().map(SoftTable::origin),
                        versions.stream().map(VersionColumn::origin))
                .flatMap(all -> all)
                .collect(Collectors.toSet());
    }

    /**
     * Returns the same book without what comes from some places.
     *
     * @param from origins, as {@link #origins} tells them
     * @return the smaller book
     */
    public WrittenRules without(Set<String> from) {
        return with(draft -> {
            draft.links.removeIf(link -> from.contains(link.origin()));
            draft.rules.removeIf(rule -> from.contains(rule.origin()));
            draft.owned.removeIf(parent -> from.contains(parent.origin()));
            draft.markers.removeIf(marker -> from.contains(marker.origin()));
            draft.softTables.removeIf(table -> from.contains(table.origin()));
            draft.versions.removeIf(version -> from.contains(version.origin()));
        });
    }

    /** A book that is being written. */
    private static final class Draft {
        private final List<UndeclaredLink> links = new ArrayList<>();
        private final List<RuleOnLink> rules = new ArrayList<>();
        private final List<OwnedParent> owned = new ArrayList<>();
        private final List<LabelOfTable> labels = new ArrayList<>();
        private final List<MarkerOfTable> markers = new ArrayList<>();
        private final List<IgnoredPlace> ignoredChanges = new ArrayList<>();
        private final List<String> schemas = new ArrayList<>();
        private final List<SoftTable> softTables = new ArrayList<>();
        private final List<VersionColumn> versions = new ArrayList<>();
        private final List<ModifiedColumns> modified = new ArrayList<>();
        private final List<ConsentOfTable> consents = new ArrayList<>();
        private final List<FollowUpOfTable> followUps = new ArrayList<>();
        private final List<TraceOfTable> traces = new ArrayList<>();
        private final Set<ServerRule> serverRules = EnumSet.noneOf(ServerRule.class);
        private Optional<Trail> trail = Optional.empty();
        private RuleDerivation derivation = RuleDerivation.NONE;

        static Draft of(WrittenRules book) {
            Draft draft = new Draft();
            draft.links.addAll(book.links);
            draft.rules.addAll(book.rules);
            draft.owned.addAll(book.owned);
            draft.labels.addAll(book.labels);
            draft.markers.addAll(book.markers);
            draft.ignoredChanges.addAll(book.ignoredChanges);
            draft.schemas.addAll(book.schemas);
            draft.softTables.addAll(book.softTables);
            draft.versions.addAll(book.versions);
            draft.modified.addAll(book.modified);
            draft.consents.addAll(book.consents);
            draft.followUps.addAll(book.followUps);
            draft.traces.addAll(book.traces);
            draft.serverRules.addAll(book.serverRules);
            draft.trail = book.trail;
            draft.derivation = book.derivation;
            return draft;
        }

        WrittenRules book() {
            return new WrittenRules(
                    links,
                    rules,
                    owned,
                    labels,
                    markers,
                    ignoredChanges,
                    schemas,
                    softTables,
                    versions,
                    modified,
                    consents,
                    trail,
                    followUps,
                    traces,
                    serverRules,
                    derivation);
        }
    }

    private WrittenRules with(Consumer<Draft> change) {
        Draft draft = Draft.of(this);
        change.accept(draft);
        return draft.book();
    }

    @Override
    public RuleBook link(String foreignKey, String parent) {
        return with(draft -> draft.links.add(new UndeclaredLink(PROGRAM, foreignKey, parent)));
    }

    @Override
    public RuleBook on(String link, Clause... clauses) {
        return with(draft -> draft.rules.add(new RuleOnLink(PROGRAM, link, Arrays.asList(clauses))));
    }

    @Override
    public RuleBook ownedParents(String... places) {
        return with(draft -> {
            for (String place : places) {
                draft.owned.add(new OwnedParent(PROGRAM, place));
            }
        });
    }

    @Override
    public RuleBook label(String table, String template) {
        return with(draft -> draft.labels.add(new LabelOfTable(PROGRAM, table, template)));
    }

    @Override
    public RuleBook marker(String table, Marker marker) {
        return with(draft -> draft.markers.add(new MarkerOfTable(PROGRAM, table, marker)));
    }

    @Override
    public RuleBook ignoringChangesIn(String... places) {
        return with(draft -> {
            for (String place : places) {
                draft.ignoredChanges.add(new IgnoredPlace(PROGRAM, place));
            }
        });
    }

    @Override
    public RuleBook schemas(String... names) {
        return with(draft -> draft.schemas.addAll(Arrays.asList(names)));
    }

    @Override
    public RuleBook soft(String table, SoftDelete soft) {
        return with(draft -> draft.softTables.add(new SoftTable(PROGRAM, table, soft)));
    }

    @Override
    public RuleBook versionColumn(String... places) {
        return with(draft -> {
            for (String place : places) {
                draft.versions.add(new VersionColumn(PROGRAM, place));
            }
        });
    }

    @Override
    public RuleBook modifiedColumns(String table, String byColumn, String atColumn) {
        return with(draft ->
                draft.modified.add(new ModifiedColumns(PROGRAM, table, Optional.of(byColumn), Optional.of(atColumn))));
    }

    @Override
    public RuleBook consent(String table, ConsentRule rule) {
        return with(draft -> draft.consents.add(new ConsentOfTable(PROGRAM, table, rule)));
    }

    @Override
    public RuleBook servers(ServerRule... all) {
        return with(draft -> draft.serverRules.addAll(Arrays.asList(all)));
    }

    @Override
    public RuleBook trail(Trail where) {
        return with(draft -> draft.trail = Optional.of(where));
    }

    @Override
    public RuleBook followUp(String table, FollowUp followUp) {
        return with(draft -> draft.followUps.add(new FollowUpOfTable(PROGRAM, table, followUp)));
    }

    @Override
    public RuleBook trace(String table, TraceRule trace) {
        return with(draft -> draft.traces.add(new TraceOfTable(PROGRAM, table, trace)));
    }
}
