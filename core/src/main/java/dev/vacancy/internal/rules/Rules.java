package dev.vacancy.internal.rules;

import dev.vacancy.Criteria;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.request.RowMarker;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Rule;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RuleProblem;
import dev.vacancy.rule.RulesException;
import dev.vacancy.rule.ServerRule;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import java.time.Clock;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The rule of each link of a catalog.
 *
 * @since 0.1
 */
public final class Rules {
    private final WrittenRules book;
    private final DatabaseCatalog catalog;
    private final Map<Link, List<LinkRule>> byLink;
    private final Map<Table, Criteria> active;
    private final IgnoredChanges ignored;
    private final Softness softness;
    private final Map<Table, ConsentRule> consents;
    private final Optional<Recording> recording;
    private final Set<Table> marked;
    private final Map<Table, PersonTrace> traces;
    private final Optional<PersonTrace> erasing;
    private final String digest;

    private Rules(
            WrittenRules book,
            DatabaseCatalog catalog,
            Map<Link, List<LinkRule>> byLink,
            Map<Table, Criteria> active,
            IgnoredChanges ignored,
            Softness softness,
            Map<Table, ConsentRule> consents,
            Optional<Recording> recording,
            Set<Table> marked,
            Map<Table, PersonTrace> traces,
            Optional<PersonTrace> erasing,
            String digest) {
        this.book = book;
        this.ignored = ignored;
        this.catalog = catalog;
        this.byLink = byLink;
        this.active = active;
        this.softness = softness;
        this.consents = consents;
        this.recording = recording;
        this.marked = marked;
        this.traces = traces;
        this.erasing = erasing;
        this.digest = digest;
    }

    /**
     * How records are marked.
     *
     * @param markers the marker of each table that has one
     * @param tables the tables whose records are marked when they are deleted, and how
     * @param versions the column that counts the changes of a table's records
     * @param modified the columns that say who changed a table's records last, and when
     */
    public record Softness(
            Map<Table, RowMarker> markers,
            Map<Table, SoftDelete> tables,
            Map<Table, Column> versions,
            Map<Table, Modified> modified) {
        /** Keeps its own copies of the maps. */
        public Softness {
            markers = Map.copyOf(markers);
            tables = Map.copyOf(tables);
            versions = Map.copyOf(versions);
            modified = Map.copyOf(modified);
        }
    }

    /**
     * Who changed a record last, and when.
     *
     * @param by the column for the actor's name; empty for none
     * @param at the column for the time; empty for none
     */
    public record Modified(Optional<Column> by, Optional<Column> at) {}

    /**
     * What is written down, and where.
     *
     * @param trail the tables
     * @param withheld the columns whose content is left out
     * @param followUps what follows outside of the database
     */
    public record Recording(Trail trail, Map<Table, Set<Column>> withheld, List<FollowUpRule> followUps) {
        /** Keeps its own copies. */
        public Recording {
            withheld = Map.copyOf(withheld);
            followUps = List.copyOf(followUps);
        }

        /**
         * Tells whether the content of a column is left out.
         *
         * @param table the column's table
         * @param column the column
         * @return true if the trail must not keep it
         */
        public boolean isWithheld(Table table, Column column) {
            return withheld.getOrDefault(table, Set.of()).contains(column);
        }
    }

    /**
     * Returns how records are marked when they are deleted.
     *
     * @return markers, tables, version columns and those of the last change
     */
    public Softness softness() {
        return softness;
    }

    /**
     * Returns what is written down of each run.
     *
     * @return the trail; empty if there is none
     */
    public Optional<Recording> recording() {
        return recording;
    }

    /**
     * Takes the rules of a book, and for all else those that the schema itself states: ON DELETE CASCADE cascades, SET
     * NULL detaches, SET DEFAULT resets, RESTRICT and NO ACTION block. A SET NULL on a column that may not be null can
     * only fail, so it blocks.
     *
     * @param given what the application says
     * @param catalog what the database holds
     * @param clock tells the moment that relative times are told from
     * @return a rule for each link, those among them that only the book declares
     * @throws RulesException when the book names what isn't there or asks for what can't be kept; all problems at once
     */
    public static Rules of(RuleBook given, DatabaseCatalog catalog, Clock clock) {
        WrittenRules book = DerivedRules.of(given, catalog, clock).book();
        RuleReader reader = new RuleReader(book, catalog, clock);
        Map<Link, List<LinkRule>> byLink = clauses(reader);
        if (book.trail().isEmpty()) {
            reader.refuseLosses(byLink);
        }
        if (!reader.problems().isEmpty()) {
            throw new RulesException(reader.problems());
        }
        return new Rules(
                book,
                reader.catalog(),
                byLink,
                reader.active(),
                reader.ignored(),
                new Softness(reader.markers(), reader.soft(), reader.versions(), reader.modified()),
                reader.consents(),
                book.trail().map(trail -> new Recording(trail, reader.withheld(), reader.followUps())),
                Set.of(),
                Map.copyOf(reader.traces()),
                Optional.empty(),
                RulesDigest.of(reader, byLink, book));
    }

    /**
     * Tells what is wrong with a book of rules, and what the catalog is with the links of it that can be understood.
     *
     * @param given what the application says
     * @param catalog what the database holds
     * @param clock tells the moment that relative times are told from
     * @return the problems, none if the rules can be kept
     */
    public static Reading read(RuleBook given, DatabaseCatalog catalog, Clock clock) {
        WrittenRules book = WrittenRules.of(given);
        RuleReader reader = new RuleReader(book, catalog, clock);
        Map<Link, List<LinkRule>> byLink = clauses(reader);
        if (book.trail().isEmpty()) {
            reader.refuseLosses(byLink);
        }
        return new Reading(reader.catalog(), reader.problems());
    }

    /**
     * What was made of a book of rules.
     *
     * @param catalog the catalog with the links that only the book declares
     * @param problems what is wrong with the book
     */
    public record Reading(DatabaseCatalog catalog, List<RuleProblem> problems) {
        /** Keeps its own copy of the problems. */
        public Reading {
            problems = List.copyOf(problems);
        }
    }

    private static Map<Link, List<LinkRule>> clauses(RuleReader reader) {
        Map<Link, List<LinkRule>> byLink = new LinkedHashMap<>();
        reader.catalog().links().forEach(link -> byLink.put(link, reader.clausesOn(link)));
        return byLink;
    }

    /**
     * Returns what the application says of a column or a table.
     *
     * @param table the table
     * @param column the column; empty if it is the table as a whole
     * @return each place that names it, with where that is said
     */
    public List<String> naming(Table table, Optional<Column> column) {
        return new NamedParts(book).naming(table, column);
    }

    /**
     * Returns what the application knows of the servers that the database consists of.
     *
     * @return what lets through what is refused otherwise
     */
    public Set<ServerRule> servers() {
        return book.serverRules();
    }

    /**
     * Returns the catalog with the links that only the rules declare.
     *
     * @return the catalog that these rules are for
     */
    public DatabaseCatalog catalog() {
        return catalog;
    }

    /**
     * Returns the clauses on a link.
     *
     * @param link a link of {@link #catalog()}
     * @return at least one, in their order
     */
    public List<LinkRule> of(Link link) {
        return byLink.get(link);
    }

    /**
     * Tells which records of a table are active.
     *
     * @param table a table of {@link #catalog()}
     * @return what picks them; nothing if the table has no marker, so that all of them are
     */
    public Optional<Criteria> active(Table table) {
        return Optional.ofNullable(active.get(table));
    }

    /**
     * Tells how rows of a table follow each other, if that is what marks them.
     *
     * @param table a table of {@link #catalog()}
     * @return the marker; empty if the table has none or one of another kind
     */
    public Optional<LatestRow> latestRow(Table table) {
        return softness.markers().get(table) instanceof LatestRow latest ? Optional.of(latest) : Optional.empty();
    }

    /**
     * Tells what a person has to give before records of a table go.
     *
     * @param table a table of {@link #catalog()}
     * @return the rule; empty where nothing is said
     */
    public Optional<ConsentRule> consent(Table table) {
        return Optional.ofNullable(consents.get(table));
    }

    /**
     * Returns what never stands still.
     *
     * @return the tables and columns that fingerprints leave out
     */
    public IgnoredChanges ignored() {
        return ignored;
    }

    /**
     * Returns these rules for a part of the catalog: the tables that a deletion from one of them can reach, and those that it
     * hangs on.
     *
     * @param table a table of {@link #catalog()}
     * @return the same rules, with a smaller catalog
     */
    public Rules around(Table table) {
        Set<Table> losing = new LinkedHashSet<>(Set.of(table));
        List<Table> open = new ArrayList<>(losing);
        while (!open.isEmpty()) {
            for (Link link : catalog.linksTo(open.remove(open.size() - 1))) {
                if (mayCascade(link) && losing.add(link.child())) {
                    open.add(link.child());
                }
            }
        }
        List<Link> near = catalog.links().stream()
                .filter(link -> losing.contains(link.parent()) || link.child().equals(table))
                .toList();
        return new Rules(
                book,
                catalog.only(table, near),
                byLink,
                active,
                ignored,
                softness,
                consents,
                recording,
                marked,
                traces,
                erasing,
                digest);
    }

    /**
     * Returns these rules for a deletion from one table: which tables lose records and which have them marked is settled, and so
     * is what that means for the children. Below a record that goes for good all go for good; below one that is marked the
     * rule of each table decides.
     *
     * @param root the table of the selected records
     * @param hard whether they go for good, whatever the rule of their table says
     * @return the same rules, with the clauses that apply
     */
    public Rules deleting(Table root, boolean hard) {
        if (softness.tables().isEmpty()) {
            return this;
        }
        Set<Table> gone = new LinkedHashSet<>();
        Set<Table> reached = new LinkedHashSet<>();
        int before;
        do {
            before = gone.size();
            reached.clear();
            reach(root, hard, reached, gone);
        } while (gone.size() > before);
        reached.removeAll(gone);
        Map<Link, List<LinkRule>> applying = new LinkedHashMap<>();
        byLink.forEach((link, clauses) -> applying.put(link, applying(link, clauses, reached.contains(link.parent()))));
        return with(applying, reached);
    }

    private Rules with(Map<Link, List<LinkRule>> clauses, Set<Table> marking) {
        return new Rules(
                book,
                catalog,
                clauses,
                active,
                ignored,
                softness,
                consents,
                recording,
                Set.copyOf(marking),
                traces,
                erasing,
                digest);
    }

    /**
     * Tells what is known of the person that a record stands for.
     *
     * @param table the record's table
     * @return what the rules say of it; no more than what links lead to where they say nothing
     */
    public PersonTrace traceOf(Table table) {
        return traces.getOrDefault(table, PersonTrace.byLinks(table));
    }

    /**
     * Returns these rules for the erasure of a person: whatever goes goes for good, soft-deleted or not. If the record itself stays it is
     * masked, and may keep what points at it.
     *
     * @param root the table of the person's record
     * @return the same rules, with the clauses that apply
     */
    public Rules erasing(Table root) {
        PersonTrace trace = traceOf(root);
        boolean stays = trace.kept().isPresent();
        Map<Link, List<LinkRule>> applying = new LinkedHashMap<>();
        byLink.forEach((link, clauses) -> {
            List<LinkRule> all = new ArrayList<>(trace.clauses().getOrDefault(link, List.of()));
            all.addAll(clauses);
            applying.put(link, applying(link, all, stays && link.parent().equals(root)));
        });
        Map<Table, Criteria> activeElsewhere = new LinkedHashMap<>(active);
        Map<Table, RowMarker> markers = new LinkedHashMap<>(softness.markers());
        if (stays) {
            activeElsewhere.remove(root);
            markers.remove(root);
        }
        return new Rules(
                book,
                catalog,
                applying,
                activeElsewhere,
                ignored,
                new Softness(markers, Map.of(), softness.versions(), softness.modified()),
                consents,
                recording,
                stays ? Set.of(root) : Set.of(),
                traces,
                Optional.of(trace),
                digest);
    }

    /**
     * Returns the columns of a table that are masked, where its records stay for that.
     *
     * @param table a table of {@link #catalog()}
     * @return the columns; none unless these rules are for an erasure that keeps its records
     */
    public List<Column> maskedIn(Table table) {
        return erasing.filter(trace -> trace.table().equals(table))
                .map(PersonTrace::masked)
                .orElse(List.of());
    }

    /**
     * Returns these rules for a purge from one table: what goes has been soft-deleted before and is past its time, and a child that isn't
     * forbids to take its parent away.
     *
     * @param root the table of the selected records
     * @param clock tells the moment
     * @return the same rules, with the clauses that apply
     */
    public Rules purging(Table root, Clock clock) {
        Rules hard = deleting(root, true);
        Map<Link, List<LinkRule>> applying = new LinkedHashMap<>();
        hard.byLink.forEach((link, clauses) -> applying.put(link, keepingWhatIsNotDue(link, clauses, clock)));
        return with(applying, hard.marked);
    }

    private List<LinkRule> keepingWhatIsNotDue(Link link, List<LinkRule> clauses, Clock clock) {
        Optional<Criteria> due = due(link.child(), clock);
        if (due.isEmpty()) {
            return clauses;
        }
        List<LinkRule> narrowed = new ArrayList<>();
        for (LinkRule clause : clauses) {
            if (clause.rule() == Rule.CASCADE) {
                Criteria both = clause.criteria().map(own -> own.and(due.get())).orElse(due.get());
                narrowed.add(new LinkRule(link, Rule.CASCADE, Optional.of(both), clause.reason(), Optional.empty()));
                narrowed.add(new LinkRule(
                        link,
                        Rule.BLOCK,
                        clause.criteria(),
                        "it is active, or its own retention isn't over",
                        Optional.empty()));
            } else {
                narrowed.add(clause);
            }
        }
        return narrowed;
    }

    /**
     * Tells which soft-deleted records of a table may be purged.
     *
     * @param table a table of {@link #catalog()}
     * @param clock tells the moment
     * @return what picks them: without a retention of its own, all that are soft-deleted; nothing if the table has no marker
     */
    public Optional<Criteria> due(Table table, Clock clock) {
        RowMarker marker = softness.markers().get(table);
        if (marker == null) {
            return Optional.empty();
        }
        Criteria deleted =
                marker.deleted(table).orElseGet(() -> active.get(table).not());
        Optional<Criteria> over = pastRetention(table, clock);
        if (over.isPresent() && marker instanceof LatestRow) {
            return over;
        }
        return Optional.of(over.map(deleted::and).orElse(deleted));
    }

    /**
     * Tells which records of a table are past their retention, if they are soft-deleted at all.
     *
     * @param table a table of {@link #catalog()}
     * @param clock tells the moment
     * @return what picks them; empty where the table has no retention
     */
    public Optional<Criteria> pastRetention(Table table, Clock clock) {
        return Optional.ofNullable(softness.tables().get(table))
                .filter(soft -> soft.retention().isPresent())
                .map(soft -> Retention.over(table, softness.markers().get(table), soft, ZonedDateTime.now(clock)));
    }

    /**
     * Tells when a soft-deleted record may be purged.
     *
     * @param table a table of {@link #catalog()}
     * @param deleted when it was deleted
     * @return the moment; empty where the table has no retention
     */
    public Optional<ZonedDateTime> keptUntil(Table table, ZonedDateTime deleted) {
        SoftDelete soft = softness.tables().get(table);
        return Optional.ofNullable(soft)
                .filter(kept -> kept.retention().isPresent())
                .map(kept -> Retention.end(table, softness.markers().get(table), kept, deleted));
    }

    private void reach(Table table, boolean hard, Set<Table> reached, Set<Table> gone) {
        boolean goes = hard || gone.contains(table) || !softness.tables().containsKey(table);
        boolean isNews = goes && gone.add(table);
        if (!reached.add(table) && !isNews) {
            return;
        }
        for (Link link : catalog.linksTo(table)) {
            if (applying(link, byLink.get(link), !goes).stream().anyMatch(rule -> rule.rule() == Rule.CASCADE)) {
                reach(link.child(), goes, reached, gone);
            }
        }
    }

    /**
     * To keep children of a parent that goes for good would break a link that the database enforces; so would it to delete an owned parent for
     * good to whom a record points that is only marked.
     */
    private List<LinkRule> applying(Link link, List<LinkRule> clauses, boolean parentStays) {
        List<LinkRule> applying = new ArrayList<>();
        for (LinkRule rule : clauses) {
            if (rule.lastOnly() && parentStays && !softness.tables().containsKey(link.child())) {
                continue;
            }
            if (parentStays || rule.rule() != Rule.KEEP || !CatalogLink.of(link).enforced()) {
                applying.add(rule);
                if (rule.criteria().isEmpty()) {
                    break;
                }
            }
        }
        return applying;
    }

    /**
     * Tells whether the records of a table are marked, and stay.
     *
     * @param table a table of {@link #catalog()}
     * @return true if a deletion that these rules were made for marks them
     */
    public boolean isMarked(Table table) {
        return marked.contains(table);
    }

    /**
     * Tells whether children on a link may go with their parent.
     *
     * @param link a link of {@link #catalog()}
     * @return true if one of its clauses cascades
     */
    public boolean mayCascade(Link link) {
        return of(link).stream().anyMatch(rule -> rule.rule() == Rule.CASCADE);
    }

    /**
     * Tells whether only active children of its records matter: what is marked leaves no foreign key behind that points nowhere. Of whoever is
     * forgotten everything matters.
     *
     * @param table a table of {@link #catalog()}
     * @return true if its records are marked, and not masked
     */
    public boolean concernsActiveOnly(Table table) {
        return isMarked(table) && maskedIn(table).isEmpty();
    }

    /**
     * Digests all of the rules that change what a deletion does, so that it can be told whether two deletions went by the same
     * ones: links and clauses, markers, soft or hard, the trail and what it leaves out, versions, columns of the last change, schemas,
     * and what never stands still. How people are asked isn't among it.
     *
     * @return 64 hexadecimal digits, SHA-256 (FIPS 180-4)
     */
    public String digest() {
        return digest;
    }
}
