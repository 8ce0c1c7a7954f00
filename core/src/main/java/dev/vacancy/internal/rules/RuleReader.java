package dev.vacancy.internal.rules;

import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.catalog.GivenKeys;
import dev.vacancy.internal.catalog.Label;
import dev.vacancy.internal.catalog.OnDelete;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.request.LinkWords;
import dev.vacancy.internal.request.RowMarker;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.internal.request.WrittenRules.ConsentOfTable;
import dev.vacancy.internal.request.WrittenRules.FollowUpOfTable;
import dev.vacancy.internal.request.WrittenRules.IgnoredPlace;
import dev.vacancy.internal.request.WrittenRules.LabelOfTable;
import dev.vacancy.internal.request.WrittenRules.MarkerOfTable;
import dev.vacancy.internal.request.WrittenRules.ModifiedColumns;
import dev.vacancy.internal.request.WrittenRules.RuleOnLink;
import dev.vacancy.internal.request.WrittenRules.SoftTable;
import dev.vacancy.internal.request.WrittenRules.TraceOfTable;
import dev.vacancy.internal.request.WrittenRules.UndeclaredLink;
import dev.vacancy.internal.request.WrittenRules.VersionColumn;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Rule;
import dev.vacancy.rule.RuleProblem;
import dev.vacancy.rule.SoftDelete;
import java.time.Clock;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Holds a book of rules against the catalog, and collects all that is wrong with it. */
final class RuleReader {
    private final DatabaseCatalog catalog;
    private final Clock clock;
    private final List<RuleProblem> problems = new ArrayList<>();
    private final Map<Link, RuleOnLink> byLink = new LinkedHashMap<>();
    private final Map<Link, String> origins = new LinkedHashMap<>();
    private final Set<Link> owned = new LinkedHashSet<>();
    private final Map<Table, Criteria> active = new LinkedHashMap<>();
    private final Map<Table, RowMarker> markers = new LinkedHashMap<>();
    private final Map<Table, SoftDelete> soft = new LinkedHashMap<>();
    private final Map<Table, Column> versions = new LinkedHashMap<>();
    private final Map<Table, Rules.Modified> modified = new LinkedHashMap<>();
    private final Map<Table, ConsentRule> consents = new LinkedHashMap<>();
    private final Map<Table, Set<Column>> withheld = new LinkedHashMap<>();
    private final List<FollowUpRule> followUps;
    private final Map<Table, PersonTrace> traces;
    private final Set<Table> ignoredTables = new LinkedHashSet<>();
    private final Map<Table, Set<Column>> ignoredColumns = new LinkedHashMap<>();

    RuleReader(WrittenRules book, DatabaseCatalog declared, Clock clock) {
        this.clock = clock;
        List<Link> undeclared = new ArrayList<>();
        for (UndeclaredLink link : book.links()) {
            attempt(link.origin(), () -> {
                Link found = undeclared(link, declared);
                undeclared.add(found);
                origins.put(found, link.origin());
            });
        }
        book.rules().stream()
                .filter(rule -> rule.clauses().stream().anyMatch(clause -> clause.rule() == Rule.PART_OF))
                .forEach(rule -> attempt(
                        rule.origin(),
                        () -> undeclared.add(
                                CatalogLink.of(wholeOf(rule, declared)).mirrored())));
        DatabaseCatalog linked = declared.with(undeclared);
        book.owned()
                .forEach(parent ->
                        attempt(parent.origin(), () -> owned.add(ownedOn(linked.link(parent.link()), undeclared))));
        undeclared.addAll(owned);
        Map<Table, Label> labels = new LinkedHashMap<>();
        for (LabelOfTable label : book.labels()) {
            attempt(label.origin(), () -> {
                Table table = declared.table(label.table());
                if (labels.put(table, Label.of(table, label.template())) != null) {
                    problem(label.origin(), "there are two labels of " + table.name() + ".", "Leave one of them out.");
                }
            });
        }
        this.catalog = DatabaseCatalog.of(declared.with(undeclared)).labelled(labels);
        for (MarkerOfTable marker : book.markers()) {
            attempt(marker.origin(), () -> read(marker));
        }
        for (SoftTable table : book.softTables()) {
            attempt(table.origin(), () -> read(table));
        }
        for (VersionColumn column : book.versions()) {
            attempt(column.origin(), () -> read(column));
        }
        for (ModifiedColumns columns : book.modified()) {
            attempt(columns.origin(), () -> read(columns));
        }
        for (ConsentOfTable consent : book.consents()) {
            attempt(consent.origin(), () -> {
                Table table = catalog.table(consent.table());
                if (consents.put(table, consent.rule()) != null) {
                    problem(
                            consent.origin(),
                            "how hard to ask about " + table.name() + " is said twice.",
                            "Leave one of them out.");
                }
            });
        }
        book.trail().ifPresent(trail -> trail.withheld().forEach(this::readWithheld));
        FollowUpReader reading =
                new FollowUpReader(catalog, withheld, book.trail().isPresent());
        for (FollowUpOfTable followUp : book.followUps()) {
            attempt(followUp.origin(), () -> reading.read(followUp));
        }
        followUps = reading.rules();
        TraceReader tracing = new TraceReader(catalog, this::checked);
        for (TraceOfTable trace : book.traces()) {
            attempt(trace.origin(), () -> tracing.read(trace));
        }
        traces = tracing.traces();
        for (IgnoredPlace place : book.ignoredChanges()) {
            attempt(place.origin(), () -> read(place));
        }
        for (RuleOnLink rule : book.rules()) {
            attempt(rule.origin(), () -> {
                Link link = catalog.link(rule.link());
                if (byLink.putIfAbsent(link, rule) != null) {
                    problem(rule.origin(), "there are two rules on " + link.where() + ".", "Put all clauses into one.");
                }
            });
        }
    }

    private void read(IgnoredPlace given) {
        if (!Place.isOfColumns(given.place(), catalog)) {
            ignoredTables.add(catalog.table(given.place()));
            return;
        }
        Place place = Place.of(given.place(), catalog);
        ignoredColumns
                .computeIfAbsent(place.table(), missing -> new LinkedHashSet<>())
                .addAll(place.columns());
    }

    private void read(SoftTable given) {
        Table table = catalog.table(given.table());
        RowMarker marker = markers.get(table);
        if (marker == null) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "the records of " + table + " can't be deleted softly: nothing says how they are marked.",
                    "Give the table a marker, such as a timestamp.");
        }
        marker.mark(table, ZonedDateTime.now(clock));
        SoftDelete how = given.soft();
        how.hard().ifPresent(criteria -> Resolution.of(criteria, table, catalog, clock));
        how.actorColumn().ifPresent(table::column);
        how.reasonColumn().ifPresent(table::column);
        how.unique().forEach(columns -> columns.forEach(table::column));
        how.timeColumn().ifPresent(column -> RowMarker.timeOf(table, column));
        if (how.retention().isPresent()
                && marker instanceof RowMarker.Flag
                && how.timeColumn().isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "nobody can tell how long a record of " + table + " has been deleted: a flag doesn't say when.",
                    "Name a column that takes the time, or leave the retention out.");
        }
        if (soft.put(table, how) != null) {
            problem(given.origin(), table.name() + " is said to be soft twice.", "Leave one of them out.");
        }
    }

    private void read(VersionColumn given) {
        Place place = Place.of(given.place(), catalog);
        Table table = place.table();
        Column column = place.columns().get(0);
        if (!ColumnType.of(column).isInteger()) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    table + "." + column + " is " + ColumnType.of(column) + ", which can't count changes.",
                    "Name a column of whole numbers.");
        }
        versions.put(table, column);
    }

    private void read(ModifiedColumns given) {
        Table table = catalog.table(given.table());
        Rules.Modified columns = new Rules.Modified(
                given.by().map(table::column), given.at().map(column -> RowMarker.timeOf(table, column)));
        columns.by().filter(by -> !ColumnType.of(by).isText()).ifPresent(by -> {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    table + "." + by + " is " + ColumnType.of(by) + ", which doesn't hold a name.",
                    "Name a column for text.");
        });
        if (modified.put(table, columns) != null) {
            problem(
                    given.origin(),
                    "there are two pairs of columns for the last change of " + table.name() + ".",
                    "Leave one of them out.");
        }
    }

    private void readWithheld(String given) {
        attempt("The trail", () -> {
            Place place = Place.of(given, catalog);
            place.columns().forEach(column -> refuseNeeded(place.table(), column));
            withheld.computeIfAbsent(place.table(), missing -> new LinkedHashSet<>())
                    .addAll(place.columns());
        });
    }

    /** Without these no record could be found again, or told whether it was deleted. */
    private void refuseNeeded(Table table, Column column) {
        RowMarker marker = markers.get(table);
        boolean marks = marker != null && table.column(marker.column()).equals(column);
        if (marks || table.identity().contains(column)) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "the trail can't leave out " + table + "." + column + ", which "
                            + (marks ? "says whether a record is deleted." : "is part of its key."),
                    "Leave out other columns, or keep no trail.");
        }
    }

    /** What comes back must bring its children back, and those that go for good come back from a trail only. */
    void refuseLosses(Map<Link, List<LinkRule>> byLink) {
        byLink.forEach((link, clauses) -> {
            boolean lost = soft.containsKey(link.parent()) && !soft.containsKey(link.child());
            if (lost && applying(clauses).stream().anyMatch(rule -> rule.rule() == Rule.CASCADE && !rule.lastOnly())) {
                problem(
                        "The rules",
                        "records of " + link.child() + " go for good when a " + link.parent() + " is only marked ("
                                + link.where() + "), and nothing keeps what they were.",
                        "Keep a trail, give " + link.child() + " a marker and make it soft, or keep, detach or block"
                                + " them.");
            }
        });
    }

    private static List<LinkRule> applying(List<LinkRule> clauses) {
        List<LinkRule> applying = new ArrayList<>();
        for (LinkRule clause : clauses) {
            applying.add(clause);
            if (clause.criteria().isEmpty()) {
                break;
            }
        }
        return applying;
    }

    Map<Table, RowMarker> markers() {
        return markers;
    }

    Map<Table, SoftDelete> soft() {
        return soft;
    }

    Map<Table, Column> versions() {
        return versions;
    }

    Map<Table, Rules.Modified> modified() {
        return modified;
    }

    Map<Table, ConsentRule> consents() {
        return consents;
    }

    /** What follows outside of the database. */
    List<FollowUpRule> followUps() {
        return followUps;
    }

    /** What is known of persons. */
    Map<Table, PersonTrace> traces() {
        return traces;
    }

    /** What the trail leaves out. */
    Map<Table, Set<Column>> withheld() {
        return withheld;
    }

    /** What never stands still. */
    IgnoredChanges ignored() {
        return new IgnoredChanges(ignoredTables, ignoredColumns);
    }

    private void read(MarkerOfTable given) {
        Table table = catalog.table(given.table());
        RowMarker marker = RowMarker.of(given.marker());
        Criteria criteria = marker.active(table);
        Resolution.of(criteria, table, catalog, clock);
        markers.put(table, marker);
        if (active.put(table, criteria) != null) {
            problem(given.origin(), "there are two markers of " + table.name() + ".", "Leave one of them out.");
        }
    }

    /** Which records of a marked table are active. */
    Map<Table, Criteria> active() {
        return active;
    }

    DatabaseCatalog catalog() {
        return catalog;
    }

    List<RuleProblem> problems() {
        return problems;
    }

    /** The clauses on a link: those of the book, and behind them what the schema says of the rest. */
    List<LinkRule> clausesOn(Link link) {
        if (CatalogLink.of(link).isMirror()) {
            return List.of(owned.contains(link) ? asOwned(link) : asOneRecord(link));
        }
        List<LinkRule> clauses = new ArrayList<>();
        RuleOnLink given = byLink.get(link);
        if (given != null) {
            for (Clause clause : given.clauses()) {
                if (isDecided(clauses)) {
                    problem(
                            given.origin(),
                            "a clause on " + link.where() + " follows one that decides for all children.",
                            "Put it before that one, or leave it out.");
                    break;
                }
                attempt(given.origin(), () -> clauses.add(checked(clause, link)));
            }
        }
        boolean keptOnlySoftly = !clauses.isEmpty()
                && CatalogLink.of(link).enforced()
                && clauses.get(clauses.size() - 1).rule() == Rule.KEEP;
        if (!isDecided(clauses) || keptOnlySoftly) {
            if (link.declared()) {
                clauses.add(bySchema(link));
            } else {
                problem(
                        given == null ? origins.get(link) : given.origin(),
                        "the link " + link.where()
                                + " isn't declared in the database, so its rule must decide for all children.",
                        "End it with a clause without criteria.");
            }
        }
        return List.copyOf(clauses);
    }

    private static boolean isDecided(List<LinkRule> clauses) {
        return !clauses.isEmpty() && clauses.get(clauses.size() - 1).criteria().isEmpty();
    }

    /** One record can be split by nothing: not by the other half's absence, nor by criteria. */
    private static Link wholeOf(RuleOnLink rule, DatabaseCatalog declared) {
        Link link = declared.link(rule.link());
        if (!CatalogLink.of(link).sharesKey()) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    link.where() + " can't be part of " + link.parent().name()
                            + ": only a child whose primary key is its declared foreign key is one record with its parent.",
                    "Use cascade.");
        }
        if (rule.clauses().size() > 1 || rule.clauses().get(0).criteria().isPresent()) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "part of on " + link.where() + " stands beside other clauses or a condition.",
                    "Leave it as the only one, for all children.");
        }
        return link;
    }

    /** The link turned round, over which a parent goes with its last child. */
    private static Link ownedOn(Link link, List<Link> turned) {
        Link mirror = CatalogLink.of(link).mirrored();
        String problem = null;
        if (CatalogLink.of(link).isToItself()) {
            problem = "parent and child are records of one table";
        } else if (turned.contains(mirror)) {
            problem = "both are one record, so that they go together anyway";
        } else if (link.child().identity().isEmpty()) {
            problem = "records of " + link.child() + " have no key, so that nobody can tell which is the last";
        }
        if (problem != null) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "the parent on " + link.where() + " can't be owned: " + problem + ".",
                    "Leave it out of the owned parents.");
        }
        return mirror;
    }

    private static LinkRule asOwned(Link link) {
        return new LinkRule(
                link,
                Rule.CASCADE,
                Optional.empty(),
                "once no other " + link.parent().name() + " refers to it",
                Optional.empty(),
                true,
                false);
    }

    private static LinkRule asOneRecord(Link link) {
        return new LinkRule(
                link,
                Rule.CASCADE,
                Optional.empty(),
                link.child().name() + " and " + link.parent().name() + " are one record",
                Optional.empty());
    }

    private LinkRule checked(Clause clause, Link link) {
        if (clause.rule() == Rule.PART_OF) {
            return asOneRecord(link);
        }
        clause.criteria().ifPresent(criteria -> Resolution.of(criteria, link.child(), catalog, clock));
        if (clause.rule() == Rule.KEEP && CatalogLink.of(link).enforced() && !soft.containsKey(link.parent())) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "children on " + link.where() + " can't be kept: the database enforces this link, "
                            + CatalogLink.of(link).onDelete().sql() + ".",
                    "Use block, cascade, detach or reassign; or delete " + link.parent() + " softly.");
        }
        if (clause.rule() == Rule.DETACH && !CatalogLink.of(link).nullable()) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "children on " + link.where() + " can't be detached: the column may not be null.",
                    "Use block, cascade or reassign.");
        }
        if (clause.takesElement() && !isEmbedded(link)) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "children on " + link.where()
                            + " can't be detached with an element: the field isn't in an embedded document.",
                    "Say detach alone.");
        }
        Optional<Key> newParent = clause.newParent().isEmpty()
                ? Optional.empty()
                : Optional.of(GivenKeys.resolve(new KeyGiven.InOrder(clause.newParent()), link.parent()));
        String reason = clause.reason()
                .orElse("the rule says " + clause.rule()
                        + (clause.takesElement() ? ", with its element" : "")
                        + newParent.map(key -> " to " + key).orElse(""));
        return new LinkRule(link, clause.rule(), clause.criteria(), reason, newParent, false, clause.takesElement());
    }

    private static boolean isEmbedded(Link link) {
        return LinkWords.isOfDocuments(link)
                && link.childColumns().get(0).name().indexOf('.') > 0;
    }

    private static LinkRule bySchema(Link link) {
        String schema = "the schema says " + CatalogLink.of(link).onDelete().sql();
        if (CatalogLink.of(link).onDelete() == OnDelete.SET_NULL
                && !CatalogLink.of(link).nullable()) {
            return bySchema(link, Rule.BLOCK, schema + ", but the column may not be null");
        }
        Rule rule = switch (CatalogLink.of(link).onDelete()) {
            case CASCADE -> Rule.CASCADE;
            case SET_DEFAULT -> Rule.RESET;
            case SET_NULL -> Rule.DETACH;
            case RESTRICT, NO_ACTION -> Rule.BLOCK;
        };
        return bySchema(link, rule, schema);
    }

    private static LinkRule bySchema(Link link, Rule rule, String reason) {
        return new LinkRule(link, rule, Optional.empty(), reason, Optional.empty());
    }

    private static Link undeclared(UndeclaredLink given, DatabaseCatalog catalog) {
        Place child = Place.of(given.foreignKey(), catalog);
        Place parent = Place.isOfColumns(given.parent(), catalog)
                ? Place.of(given.parent(), catalog)
                : keyOf(catalog.table(given.parent()));
        if (parent.columns().size() != child.columns().size()) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "the link " + given.foreignKey() + " has " + child.columns().size() + " columns, but the key of "
                            + parent.table().name() + " has "
                            + parent.columns().size() + ".",
                    "Give as many, in the order of the key: table.(column, column).");
        }
        return CatalogLink.undeclared(child.table(), child.columns(), parent.table(), parent.columns());
    }

    private static Place keyOf(Table table) {
        return new Place(table, table.identity());
    }

    private void attempt(String origin, Runnable reading) {
        try {
            reading.run();
        } catch (InvalidRequestException wrong) {
            problem(origin, wrong.problem(), wrong.remedy());
        }
    }

    private void problem(String origin, String what, String remedy) {
        problems.add(new RuleProblem(origin, what, remedy));
    }
}
