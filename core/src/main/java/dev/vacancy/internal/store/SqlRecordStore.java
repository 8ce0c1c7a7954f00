package dev.vacancy.internal.store;

import dev.vacancy.DatabaseException;
import dev.vacancy.Limits;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SqlCondition;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.dialect.Truncation;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.SqlReading.Ask;
import dev.vacancy.internal.store.SqlReading.Item;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.OptionalLong;
import java.util.Set;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.stream.Stream;

/**
 * The records of a relational database, on a connection in a transaction.
 *
 * @since 0.1
 */
public final class SqlRecordStore implements RecordStore {
    private static final String ALIAS = Statements.alias();
    private static final String PARENT = "p";
    private static final Item COUNT = new Item("count(*)", ResultSet::getLong);

    private final Connection connection;
    private final Dialect dialect;
    private final DatabaseCatalog catalog;
    private final Purpose purpose;
    private final SqlReading reading;
    private final SqlItems reads;
    private final Set<Table> locked = new HashSet<>();

    /**
     * Opens the store.
     *
     * @param connection a connection in a transaction
     * @param dialect the dialect of the database
     * @param catalog what it holds
     * @param limits how long is waited for locks
     * @param purpose what the records are read for
     */
    public SqlRecordStore(
            Connection connection, Dialect dialect, DatabaseCatalog catalog, Limits limits, Purpose purpose) {
        this.connection = connection;
        this.dialect = dialect;
        this.catalog = catalog;
        this.purpose = purpose;
        this.reads = new SqlItems(dialect);
        this.reading = new SqlReading(connection, dialect, limits, purpose.isLocking());
    }

    @Override
    public Purpose purpose() {
        return purpose;
    }

    @Override
    public StoreTraits traits() {
        return new StoreTraits(
                true,
                dialect.checksRowByRow(),
                dialect.actsAfterStatement(),
                dialect.deepestCascade(),
                dialect.deepestRecursion(),
                dialect.deferral().isPresent(),
                purpose == Purpose.DELETING && dialect.deletesUncounted(),
                dialect.locksAreLocal(),
                Long.MAX_VALUE);
    }

    @Override
    public void beginWriting(Table table) {
        table.columns().stream()
                .filter(column -> !column.generated())
                .findFirst()
                .ifPresent(column -> reading.execute(
                        table, dialect.beginWriting(dialect.name(table), dialect.quote(column.storedName()))));
    }

    @Override
    public void lockTable(Table table) {
        if (purpose.isLocking() && locked.add(table)) {
            reading.execute(table, dialect.lockTable(dialect.name(table)));
        }
    }

    @Override
    public List<List<Object>> identities(Table table, Condition among, int most, boolean skippingHeld) {
        List<Item> items = reads.exact(table.identity(), ALIAS);
        Fragment all = inOrder(table, select(table, items, among));
        Fragment query = most == Integer.MAX_VALUE ? all : Statements.limited(all, most);
        Fragment asked = skippingHeld ? dialect.skippingLocked(query).orElse(query) : query;
        return reading.rows(table, Optional.of(among), items, asked);
    }

    @Override
    public List<List<List<Object>>> identities(List<Picked> picked) {
        return reading.together(picked.stream().map(this::identities).toList());
    }

    private Ask<List<List<Object>>> identities(Picked picked) {
        List<Item> items = reads.exact(picked.table().identity(), ALIAS);
        Fragment query = inOrder(picked.table(), select(picked.table(), items, picked.among()));
        return new Ask<>(picked.table(), picked.among(), items, query, rows -> rows);
    }

    @Override
    public void eachIdentity(Table table, Condition among, Consumer<List<Object>> each) {
        List<Item> items = reads.exact(table.identity(), ALIAS);
        reading.each(table, among, items, inOrder(table, select(table, items, among)), each);
    }

    @Override
    public List<List<Object>> records(Table table, List<Column> columns, Condition among) {
        List<Item> items = reads.exact(columns, ALIAS);
        return reading.rows(table, Optional.of(among), items, locked(table, select(table, items, among)));
    }

    @Override
    public void eachRecord(Table table, List<Column> columns, Condition among, Consumer<List<Object>> each) {
        List<Item> items = reads.exact(columns, ALIAS);
        reading.each(table, among, items, locked(table, select(table, items, among)), each);
    }

    @Override
    public void eachWhole(Table table, List<Column> exactly, Condition among, Consumer<Whole> each) {
        List<Item> items = reads.whole(table, exactly, ALIAS);
        eachWhole(table, exactly.size(), among, items, locked(table, select(table, items, among)), each);
    }

    @Override
    public void eachWholeInOrder(Table table, Condition among, Consumer<Whole> each) {
        List<Item> items = reads.whole(table, table.identity(), ALIAS);
        eachWhole(table, table.identity().size(), among, items, inOrder(table, select(table, items, among)), each);
    }

    private void eachWhole(
            Table table, int width, Condition among, List<Item> items, Fragment query, Consumer<Whole> each) {
        reading.each(
                table,
                among,
                items,
                query,
                row -> each.accept(new Whole(row.subList(0, width), byName(table, row.subList(width, row.size())))));
    }

    private static Map<String, Object> byName(Table table, List<Object> values) {
        Map<String, Object> byName = new LinkedHashMap<>();
        for (int i = 0; i < values.size(); i++) {
            byName.put(table.columns().get(i).name(), values.get(i));
        }
        return byName;
    }

    @Override
    public List<List<Object>> descendants(
            Link link, List<Column> columns, Condition first, Optional<Condition> further, OptionalInt rounds) {
        Table table = link.child();
        List<Item> items = columns.stream()
                .map(column -> new Item(dialect.name(ALIAS, column), reads.exactly(column)))
                .toList();
        Fragment query = Statements.descendants(
                dialect,
                dialect.name(table),
                Item.expressions(items),
                columns.stream().map(ColumnType::of).toList(),
                SqlCondition.of(first, dialect, ALIAS),
                further.map(condition -> SqlCondition.of(condition, dialect, ALIAS)),
                dialect.foreignKey(ALIAS, link),
                link.parentColumns().stream().map(columns::indexOf).toList(),
                rounds);
        return reading.rows(table, Optional.of(first), items, query).stream()
                .distinct()
                .toList();
    }

    @Override
    public List<List<Object>> parents(Link link, Collection<List<Object>> children) {
        Condition among = new Condition.Among(link.child().identity(), List.copyOf(children));
        List<Item> items = Stream.concat(
                        reads.exact(link.child().identity(), ALIAS).stream(),
                        reads.exact(link.parent().identity(), PARENT).stream())
                .toList();
        return reading.rows(link.child(), Optional.of(among), items, joined(link, items, among));
    }

    @Override
    public List<Counted> countByParent(Link link, Condition children) {
        List<Column> identity = link.parent().identity();
        List<Item> items = new ArrayList<>(reads.exact(identity, PARENT));
        items.add(COUNT);
        Fragment query = joined(link, items, children)
                .between("", " group by " + String.join(", ", dialect.names(PARENT, identity)));
        return reading.rows(link.child(), Optional.of(children), items, query).stream()
                .map(row -> new Counted(row.subList(0, identity.size()), (Long) row.get(identity.size())))
                .toList();
    }

    private Fragment joined(Link link, List<Item> items, Condition children) {
        List<String> foreignKey = dialect.foreignKey(ALIAS, link);
        List<String> referenced = dialect.referenced(PARENT, link);
        List<String> matches = new ArrayList<>();
        for (int i = 0; i < foreignKey.size(); i++) {
            matches.add(foreignKey.get(i) + " = " + referenced.get(i));
        }
        return SqlCondition.of(children, dialect, ALIAS)
                .between(
                        "select " + String.join(", ", Item.expressions(items)) + " from "
                                + dialect.name(link.child()) + " as " + ALIAS + " join "
                                + dialect.name(link.parent()) + " as " + PARENT + " on " + String.join(" and ", matches)
                                + " where (",
                        ")");
    }

    @Override
    public List<List<Map<Column, Object>>> first(List<First> wanted) {
        return reading.together(wanted.stream().map(this::first).toList());
    }

    private Ask<List<Map<Column, Object>>> first(First wanted) {
        Table table = wanted.table();
        List<Column> read = List.copyOf(wanted.columns());
        List<Item> items = read.stream()
                .map(column ->
                        table.identity().contains(column) ? reads.exact(column, ALIAS) : reads.shown(column, ALIAS))
                .toList();
        Fragment query = wanted.inOrder()
                ? Statements.ordered(qualified(table.identity()), Item.expressions(items), from(table, wanted.among()))
                : select(table, items, wanted.among());
        return new Ask<>(
                table,
                wanted.among(),
                items,
                current(Statements.limited(query, wanted.most())),
                rows -> rows.stream().map(row -> byColumn(read, row)).toList());
    }

    private static Map<Column, Object> byColumn(List<Column> columns, List<Object> row) {
        Map<Column, Object> values = new LinkedHashMap<>();
        for (int i = 0; i < row.size(); i++) {
            values.put(columns.get(i), row.get(i));
        }
        return values;
    }

    /** What tells the records from others of the same number are the lowest and the highest value in each column of their keys. */
    @Override
    public List<Tally> tallies(List<Picked> picked) {
        return reading.together(picked.stream().map(this::tally).toList());
    }

    private Ask<Tally> tally(Picked picked) {
        List<Item> items = new ArrayList<>(List.of(COUNT));
        for (Column column : picked.table().identity()) {
            String value = dialect.codec(column).ordered(dialect.name(ALIAS, column));
            items.add(new Item("min(" + value + ")", ResultSet::getString));
            items.add(new Item("max(" + value + ")", ResultSet::getString));
        }
        return new Ask<>(
                picked.table(),
                picked.among(),
                items,
                current(select(picked.table(), items, picked.among())),
                rows -> new Tally(
                        (Long) rows.get(0).get(0),
                        String.valueOf(rows.get(0).subList(1, rows.get(0).size()))));
    }

    @Override
    public OptionalLong lockedCount(Table table, Condition among) {
        if (purpose != Purpose.DELETING) {
            return OptionalLong.empty();
        }
        Fragment locked = locked(table, select(table, reads.exact(table.identity(), ALIAS), among));
        Optional<Fragment> counting = dialect.countingLocked(locked);
        return counting.isEmpty() ? OptionalLong.empty() : OptionalLong.of(count(table, among, counting.get()));
    }

    @Override
    public Set<Table> keepingRecords(List<Table> tables) {
        Optional<Fragment> asked = tables.isEmpty()
                ? Optional.empty()
                : dialect.keepingRows(tables.stream().map(dialect::name).toList());
        if (asked.isEmpty()) {
            return Set.of();
        }
        List<Item> items = List.of(new Item("", ResultSet::getBoolean));
        List<List<Object>> rows = reading.rows(tables.get(0), Optional.empty(), items, asked.get());
        Set<Table> keeping = new HashSet<>(tables);
        for (int i = 0; i < tables.size(); i++) {
            if (Boolean.FALSE.equals(rows.get(i).get(0))) {
                keeping.remove(tables.get(i));
            }
        }
        return keeping;
    }

    @Override
    public long count(Table table, Condition among) {
        return count(table, among, current(select(table, List.of(COUNT), among)));
    }

    private long count(Table table, Condition among, Fragment query) {
        return (Long) reading.rows(table, Optional.of(among), List.of(COUNT), query)
                .get(0)
                .get(0);
    }

    @Override
    public Unrecordable unrecordable(Rules.Recording recording, Table table, Condition among) {
        Recorder recorder = new Recorder(recording, dialect);
        return new Unrecordable(
                countOf(recorder.tooLarge(table), table, among), countOf(recorder.lost(table), table, among));
    }

    private long countOf(Optional<Fragment> which, Table table, Condition among) {
        return which.map(condition -> condition
                        .between("select count(case when ", " then 1 end) from ")
                        .then(from(table, among)))
                .map(query -> count(table, among, current(query)))
                .orElse(0L);
    }

    @Override
    public long countHeld(Rules.Recording recording, UUID hold, Table table, Condition among) {
        EntryReader reader = new EntryReader(new TrailTables(recording.trail(), dialect));
        long[] count = {0};
        try {
            reader.each(connection, hold, 1, portion -> {
                List<List<Object>> held = portion.stream()
                        .flatMap(entry -> entry.identity(table.identity()).stream())
                        .toList();
                count[0] += count(
                        table, new Condition.AllOf(List.of(among, new Condition.Pictured(table.identity(), held))));
            });
        } catch (SQLException failure) {
            throw new DatabaseException("read which records are held", "Nothing was changed.", failure);
        }
        return count[0];
    }

    @Override
    public Optional<EmptiedAtOnce> emptiedAtOnce(Table table) {
        return dialect.truncation(dialect.name(table)).map(way -> {
            List<Item> name = List.of(new Item("", ResultSet::getString));
            List<Item> truth = List.of(new Item("", ResultSet::getBoolean));
            List<String> triggers = reading.rows(table, Optional.empty(), name, way.triggers()).stream()
                    .map(row -> (String) row.get(0))
                    .toList();
            boolean allowed =
                    reading.rows(table, Optional.empty(), truth, way.allowed()).contains(List.<Object>of(true));
            return new EmptiedAtOnce(allowed, triggers);
        });
    }

    @Override
    public void lockToEmpty(Table table) {
        reading.execute(table, dialect.truncation(dialect.name(table)).map(Truncation::lock));
    }

    @Override
    public boolean foldsText(Column column) {
        return dialect.codec(column).isTextFolded();
    }

    private Fragment select(Table table, List<Item> items, Condition among) {
        return Statements.select(Item.expressions(items), from(table, among));
    }

    private Fragment from(Table table, Condition among) {
        if (!catalog.access(table).select()) {
            throw MissingRight.of("read", "select on", table);
        }
        return dialect.from(
                dialect.name(table), ALIAS, qualified(table.identity()), SqlCondition.alternatives(among, dialect));
    }

    private Fragment inOrder(Table table, Fragment query) {
        return Statements.inOrder(query, qualified(table.identity()));
    }

    /** A user who may delete records but not change them can't lock them one by one, and locks their table. */
    private Fragment locked(Table table, Fragment query) {
        if (!purpose.isLocking()) {
            return query;
        }
        Fragment ordered = inOrder(table, query);
        if (catalog.access(table).update()) {
            return dialect.locking(ordered);
        }
        lockTable(table);
        return ordered;
    }

    private Fragment current(Fragment query) {
        return purpose.isLocking() ? dialect.current(query) : query;
    }

    private List<String> qualified(List<Column> columns) {
        return dialect.names(ALIAS, columns);
    }
}
