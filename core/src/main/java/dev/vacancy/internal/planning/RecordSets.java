package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.RecordStore;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** The records that go, by table, in the order in which the tables were reached. */
final class RecordSets {
    private final DatabaseCatalog catalog;
    private final Rules rules;
    private final Clock clock;
    private final RecordStore store;
    private final Map<Table, RecordSet> sets = new LinkedHashMap<>();
    private final Map<Link, List<LinkCase>> cases = new LinkedHashMap<>();

    RecordSets(Rules rules, Clock clock, RecordStore store) {
        this.catalog = rules.catalog();
        this.rules = rules;
        this.clock = clock;
        this.store = store;
    }

    /** Where the records are. */
    RecordStore store() {
        return store;
    }

    /** What has to be known of each record of a table: its identity, and whatever its children refer to. */
    List<Column> columnsRead(Table table) {
        return columnsRead(table, catalog);
    }

    /** The same of a table of any catalog. */
    static List<Column> columnsRead(Table table, DatabaseCatalog catalog) {
        Set<Column> columns = new LinkedHashSet<>(table.identity());
        catalog.linksTo(table).forEach(link -> columns.addAll(link.parentColumns()));
        return List.copyOf(columns);
    }

    /** The tables of which records may go, in the order in which they were reached. */
    Set<Table> tables() {
        return sets.values().stream()
                .filter(set -> !(set instanceof RecordSet.None))
                .map(RecordSet::table)
                .collect(Collectors.toCollection(LinkedHashSet::new));
    }

    /** Whether a cascade leads to a table, or records of it are selected. */
    boolean isReached(Table table) {
        return sets.containsKey(table);
    }

    /** The records of a table that go. */
    RecordSet of(Table table) {
        return sets.getOrDefault(table, new RecordSet.None(table, Set.of()));
    }

    /** The same where each of them is known. */
    KeyedRecords keyed(Table table) {
        return (KeyedRecords) of(table);
    }

    /** The same where each of them is known, or none is there yet. */
    KeyedRecords startKeyed(Table table) {
        if (!(of(table) instanceof KeyedRecords)) {
            sets.put(
                    table,
                    KeyedRecords.none(table, columnsRead(table), reach(table).ways(), store));
        }
        return keyed(table);
    }

    boolean isKeyed(Table table) {
        return of(table) instanceof KeyedRecords;
    }

    boolean isUnread(Table table) {
        return of(table) instanceof UnreadRecords;
    }

    /** Notes that a cascade leads to a table. */
    Table reach(LinkCase way) {
        Table child = way.rule().link().child();
        reach(child).ways().add(way);
        return child;
    }

    private RecordSet reach(Table table) {
        return sets.computeIfAbsent(table, missing -> new RecordSet.None(table, new LinkedHashSet<>()));
    }

    /** Takes selected records whose keys aren't held. */
    void select(Table table, Roots.Unheld selected) {
        sets.put(table, new UnreadRecords(table, reach(table).ways(), this, selected));
    }

    /** Forgets the keys of a table, if any are held. */
    UnreadRecords leaveUnread(Table table) {
        if (!isUnread(table)) {
            sets.put(table, new UnreadRecords(table, reach(table).ways(), this));
        }
        return (UnreadRecords) of(table);
    }

    /** Whether nothing links to a table, and none of its records was selected by its key: they can't be told apart, and needn't be. */
    boolean isLeaf(Table table) {
        return catalog.linksTo(table).isEmpty() && !isKeyed(table);
    }

    /** Picks the records of a table that go, if any may. */
    Optional<Condition> condition(Table table) {
        return of(table).condition();
    }

    /** Picks those of some records that stay. */
    Condition staying(Table table, Condition among) {
        return condition(table)
                .<Condition>map(going -> new Condition.AllOf(List.of(among, new Condition.Except(going))))
                .orElse(among);
    }

    /** Picks the children on a link of the records that go, whether they go themselves or not. */
    Condition childrenOn(Link link) {
        return of(link.parent()).childrenOn(link);
    }

    /** The ways from selected records to the parents of some children, as {@link RecordSet#waysTo} names them. */
    List<List<String>> waysTo(Link link, List<List<Object>> rows) {
        return of(link.parent()).waysTo(link, rows);
    }

    /** The clauses on a link as they apply now. */
    List<LinkCase> casesOf(Link link) {
        return cases.computeIfAbsent(link, missing -> LinkCase.of(link, rules, clock));
    }

    /** The links to records that go. */
    List<Link> links() {
        List<Link> links = new ArrayList<>();
        tables().forEach(table -> links.addAll(catalog.linksTo(table)));
        return links;
    }
}
