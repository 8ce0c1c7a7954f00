package dev.vacancy.internal.planning;

import dev.vacancy.DatabaseException;
import dev.vacancy.Limits;
import dev.vacancy.LockedException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.OptionalLong;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Stream;

/** The questions that planning puts to the database. Each is one statement, however many records it is about. */
final class Lookup {
    private static final String ALIAS = Statements.alias();
    private static final String PARENT = "p";
    private static final int PORTION = 1_000;

    private final Connection connection;
    private final Dialect dialect;
    private final DatabaseCatalog catalog;
    private final Limits limits;
    private final Purpose purpose;
    private final Set<Table> locked = new HashSet<>();

    Lookup(Connection connection, Dialect dialect, DatabaseCatalog catalog, Limits limits, Purpose purpose) {
        this.connection = connection;
        this.catalog = catalog;
        this.dialect = dialect;
        this.limits = limits;
        this.purpose = purpose;
    }

    /** What records are read for. */
    enum Purpose {
        /** To be shown. */
        LOOKING,

        /** To be shown where nothing is asked for: what would become of them, and not whether it could be done. */
        TRACING,

        /** To be compared, under lock, with what somebody has agreed to. */
        COMPARING,

        /** To be locked for a deletion that is decided: no more of them has to be known than who goes. */
        DELETING
    }

    /** A value to read of each row. */
    private record Item(String expression, Reader reader) {}

    @FunctionalInterface
    private interface Reader {
        Object read(ResultSet row, int index) throws SQLException;
    }

    Dialect dialect() {
        return dialect;
    }

    /** Whether anybody wants to do what would become of them. */
    boolean isToBeDone() {
        return purpose != Purpose.TRACING;
    }

    /** Whether the records are read to be changed in this transaction, and not only to be looked at. */
    boolean locking() {
        return purpose == Purpose.COMPARING || purpose == Purpose.DELETING;
    }

    /** Whether nobody has agreed to certain records, and the statement that deletes children can be the first to count them. */
    boolean countsByDeleting() {
        return purpose == Purpose.DELETING && dialect.deletesUncounted();
    }

    /** Whether records of one table that point at each other can't go in one statement. */
    boolean checksRowByRow() {
        return dialect.checksRowByRow();
    }

    /** Whether ON DELETE finds nothing left to do among records that go in one statement. */
    boolean actsAfterStatement() {
        return dialect.actsAfterStatement();
    }

    /** How many records in a row the database's own cascade follows, 0 if it is better kept out of it. */
    int deepestCascade() {
        return dialect.deepestCascade();
    }

    /** How many generations {@link #descendants} can go down at most, or empty if it ends by itself. */
    OptionalInt deepestRecursion() {
        return dialect.deepestRecursion();
    }

    /** Whether the checks of deferrable foreign keys can be put off. */
    boolean canDefer() {
        return dialect.deferral().isPresent();
    }

    /** Takes the locks that have to be there before anything is read. */
    void begin(Table table) {
        table.columns().stream()
                .filter(column -> !column.generated())
                .findFirst()
                .ifPresent(column ->
                        execute(table, dialect.beginWriting(dialect.name(table), dialect.quote(column.storedName()))));
    }

    /** Keeps others from adding records to a table, as far as a lock on their parents wouldn't. */
    void lockTable(Table table) {
        if (locking() && locked.add(table)) {
            execute(table, dialect.lockTable(dialect.name(table)));
        }
    }

    /** Takes a lock of another kind. */
    void lock(Table table, Fragment statement) {
        execute(table, Optional.of(statement));
    }

    private void execute(Table table, Optional<Fragment> statement) {
        if (statement.isEmpty()) {
            return;
        }
        try (PreparedStatement prepared =
                dialect.governed(statement.get(), limits.lockWait()).prepare(connection)) {
            prepared.execute();
        } catch (SQLException failure) {
            throw failed(table, Optional.empty(), failure);
        }
    }

    /** Reads the identities of records, or of those that nobody else holds, in order. */
    List<List<Object>> identities(Table table, Condition condition, int most, boolean skippingHeld) {
        List<Item> items = exact(table.identity(), ALIAS);
        Fragment all = Statements.inOrder(select(table, items, condition), qualified(table.identity()));
        Fragment query = most == Integer.MAX_VALUE ? all : Statements.limited(all, most);
        Fragment asked = skippingHeld ? dialect.skippingLocked(query).orElse(query) : query;
        return rows(table, Optional.of(condition), items, asked);
    }

    /** Reads the identities of records in order, one by one. */
    void eachInOrder(Table table, Condition condition, Consumer<List<Object>> consumer) {
        List<Item> items = exact(table.identity(), ALIAS);
        Fragment query = Statements.inOrder(select(table, items, condition), qualified(table.identity()));
        each(table, Optional.of(condition), items, query, true, consumer);
    }

    /** Reads columns of records in any order, exactly, and locks the records if this is for a run. */
    List<List<Object>> records(Table table, List<Column> columns, Condition condition) {
        List<Item> items = exact(columns, ALIAS);
        return rows(table, Optional.of(condition), items, locked(table, select(table, items, condition)));
    }

    /** Does the same record by record, however many there are. */
    void eachRecord(Table table, List<Column> columns, Condition condition, Consumer<List<Object>> consumer) {
        List<Item> items = exact(columns, ALIAS);
        each(table, Optional.of(condition), items, locked(table, select(table, items, condition)), true, consumer);
    }

    /** Reads whole records in any order, and some of their columns exactly; locks them if this is for a run. */
    void eachWhole(Table table, List<Column> exactly, Condition condition, Consumer<Whole> consumer) {
        List<Item> items = whole(table, exactly);
        eachWhole(table, exactly, condition, items, locked(table, select(table, items, condition)), consumer);
    }

    /** Reads whole records by their identity, and some of their columns exactly. */
    void eachWholeInOrder(Table table, List<Column> exactly, Condition condition, Consumer<Whole> consumer) {
        List<Item> items = whole(table, exactly);
        Fragment query = Statements.inOrder(select(table, items, condition), qualified(table.identity()));
        eachWhole(table, exactly, condition, items, query, consumer);
    }

    private void eachWhole(
            Table table,
            List<Column> exactly,
            Condition condition,
            List<Item> items,
            Fragment query,
            Consumer<Whole> consumer) {
        int width = exactly.size();
        each(
                table,
                Optional.of(condition),
                items,
                query,
                true,
                row -> consumer.accept(new Whole(row.subList(0, width), row.subList(width, row.size()))));
    }

    private List<Item> whole(Table table, List<Column> exactly) {
        return Stream.concat(
                        exact(exactly, ALIAS).stream(), table.columns().stream().map(column -> shown(column, ALIAS)))
                .toList();
    }

    /**
     * Reads the records of a link's table that meet a condition, and those that hang on them by the link.
     *
     * @param link a link from a table to itself
     * @param first picks the first records
     * @param further what the records below them must meet, or empty
     * @param rounds how deep to go, or empty for any depth
     */
    List<List<Object>> descendants(
            Link link, List<Column> columns, Condition first, Optional<Condition> further, OptionalInt rounds) {
        Table table = link.child();
        List<Item> items = columns.stream()
                .map(column -> new Item(dialect.name(ALIAS, column), exact(column)))
                .toList();
        Fragment query = Statements.descendants(
                dialect,
                dialect.name(table),
                expressions(items),
                columns.stream().map(ColumnType::of).toList(),
                first.in(dialect, ALIAS),
                further.map(condition -> condition.in(dialect, ALIAS)),
                dialect.foreignKey(ALIAS, link),
                link.parentColumns().stream().map(columns::indexOf).toList(),
                rounds);
        return rows(table, Optional.of(first), items, query).stream().distinct().toList();
    }

    /** Asks the database which record each of some children has for its parent on a link: both identities, side by side. */
    List<List<Object>> parents(Link link, Collection<List<Object>> children) {
        Condition condition = new Condition.Among(link.child().identity(), List.copyOf(children));
        List<Item> items = Stream.concat(
                        exact(link.child().identity(), ALIAS).stream(),
                        exact(link.parent().identity(), PARENT).stream())
                .toList();
        return rows(link.child(), Optional.of(condition), items, joined(link, items, condition));
    }

    /** Counts children by the identities of their parents on a link. */
    List<Counted> countByParent(Link link, Condition children) {
        List<Column> identity = link.parent().identity();
        List<Item> items = new ArrayList<>(exact(identity, PARENT));
        items.add(new Item("count(*)", (row, index) -> row.getLong(index)));
        Fragment query = joined(link, items, children)
                .between("", " group by " + String.join(", ", dialect.names(PARENT, identity)));
        return rows(link.child(), Optional.of(children), items, query).stream()
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
        return children.in(dialect, ALIAS)
                .between(
                        "select " + String.join(", ", expressions(items)) + " from "
                                + dialect.name(link.child()) + " as " + ALIAS + " join "
                                + dialect.name(link.parent()) + " as " + PARENT + " on " + String.join(" and ", matches)
                                + " where (",
                        ")");
    }

    /** Asks for the first few records of several tables. */
    List<List<Map<Column, Object>>> first(List<First> wanted) {
        return together(wanted.stream().map(this::first).toList());
    }

    /** Reads the first few records by their identity, each with its values by column. */
    List<Map<Column, Object>> firstOf(First wanted) {
        return first(List.of(wanted)).get(0);
    }

    private Ask<List<Map<Column, Object>>> first(First wanted) {
        Table table = wanted.table();
        List<Column> read = List.copyOf(wanted.columns());
        List<Item> items = read.stream()
                .map(column -> table.identity().contains(column) ? exact(column, ALIAS) : shown(column, ALIAS))
                .toList();
        Fragment query = wanted.inOrder()
                ? Statements.ordered(qualified(table.identity()), expressions(items), from(table, wanted.condition()))
                : select(table, items, wanted.condition());
        return new Ask<>(
                table,
                wanted.condition(),
                items,
                current(Statements.limited(query, wanted.limit())),
                rows -> rows.stream().map(row -> byColumn(read, row)).toList());
    }

    private static Map<Column, Object> byColumn(List<Column> columns, List<Object> row) {
        Map<Column, Object> values = new LinkedHashMap<>();
        for (int i = 0; i < row.size(); i++) {
            values.put(columns.get(i), row.get(i));
        }
        return values;
    }

    /** Counts records of several tables, and reads the lowest and the highest value in each column of their keys. */
    List<Tally> tallies(List<Picked> picked) {
        return together(picked.stream().map(this::tally).toList());
    }

    private Ask<Tally> tally(Picked picked) {
        List<Item> items = new ArrayList<>();
        items.add(new Item("count(*)", (row, index) -> row.getLong(index)));
        for (Column column : picked.table().identity()) {
            String value = dialect.codec(column).ordered(dialect.name(ALIAS, column));
            items.add(new Item("min(" + value + ")", ResultSet::getString));
            items.add(new Item("max(" + value + ")", ResultSet::getString));
        }
        return new Ask<>(
                picked.table(),
                picked.condition(),
                items,
                current(select(picked.table(), items, picked.condition())),
                rows -> new Tally(
                        (Long) rows.get(0).get(0),
                        String.valueOf(rows.get(0).subList(1, rows.get(0).size()))));
    }

    /** Locks records and counts them, where nobody has agreed to certain ones and it can be done without reading them. */
    OptionalLong lockedCount(Table table, Condition condition) {
        if (purpose != Purpose.DELETING) {
            return OptionalLong.empty();
        }
        Fragment locked = locked(table, select(table, exact(table.identity(), ALIAS), condition));
        Optional<Fragment> counting = dialect.countingLocked(locked);
        if (counting.isEmpty()) {
            return OptionalLong.empty();
        }
        List<Item> items = List.of(new Item("count(*)", (row, index) -> row.getLong(index)));
        return OptionalLong.of((Long) rows(table, Optional.of(condition), items, counting.get())
                .get(0)
                .get(0));
    }

    /** Tells which of several tables may keep a row that a deletion has found. */
    Set<Table> keepingRows(List<Table> tables) {
        Optional<Fragment> asked = tables.isEmpty()
                ? Optional.empty()
                : dialect.keepingRows(tables.stream().map(dialect::name).toList());
        if (asked.isEmpty()) {
            return Set.of();
        }
        List<Item> items = List.of(new Item("", ResultSet::getBoolean));
        List<List<Object>> rows = rows(tables.get(0), Optional.empty(), items, asked.get());
        Set<Table> keeping = new HashSet<>(tables);
        for (int i = 0; i < tables.size(); i++) {
            if (Boolean.FALSE.equals(rows.get(i).get(0))) {
                keeping.remove(tables.get(i));
            }
        }
        return keeping;
    }

    /** Counts records. */
    long count(Table table, Condition condition) {
        List<Item> items = List.of(new Item("count(*)", (row, index) -> row.getLong(index)));
        return (Long) rows(table, Optional.of(condition), items, current(select(table, items, condition)))
                .get(0)
                .get(0);
    }

    /** Counts those of some records that meet a condition in the database's own words. */
    long count(Table table, Condition condition, Fragment further) {
        List<Item> items = List.of(new Item("count(*)", (row, index) -> row.getLong(index)));
        Fragment query =
                further.between("select count(case when ", " then 1 end) from ").then(from(table, condition));
        return (Long) rows(table, Optional.of(condition), items, current(query))
                .get(0)
                .get(0);
    }

    private Fragment select(Table table, List<Item> items, Condition condition) {
        return Statements.select(expressions(items), from(table, condition));
    }

    private Fragment from(Table table, Condition condition) {
        if (!catalog.access(table).select()) {
            throw MissingRights.toRead(table);
        }
        return dialect.from(dialect.name(table), ALIAS, qualified(table.identity()), condition.alternatives(dialect));
    }

    /** A user who may delete records but not change them can't lock them one by one, and locks their table. */
    private Fragment locked(Table table, Fragment query) {
        if (!locking()) {
            return query;
        }
        Fragment ordered = Statements.inOrder(query, qualified(table.identity()));
        if (catalog.access(table).update()) {
            return dialect.locking(ordered);
        }
        lockTable(table);
        return ordered;
    }

    private Fragment current(Fragment query) {
        return locking() ? dialect.current(query) : query;
    }

    private List<String> qualified(List<Column> columns) {
        return dialect.names(ALIAS, columns);
    }

    private static List<String> expressions(List<Item> items) {
        return items.stream().map(Item::expression).toList();
    }

    private List<Item> exact(List<Column> columns, String alias) {
        return columns.stream().map(column -> exact(column, alias)).toList();
    }

    private Item exact(Column column, String alias) {
        return new Item(dialect.codec(column).exact(dialect.name(alias, column)), exact(column));
    }

    private Reader exact(Column column) {
        return (row, index) -> dialect.codec(column).readExact(row, index);
    }

    private Item shown(Column column, String alias) {
        return new Item(
                dialect.name(alias, column),
                (row, index) -> dialect.codec(column).read(row, index));
    }

    private List<List<Object>> rows(Table table, Optional<Condition> condition, List<Item> items, Fragment query) {
        List<List<Object>> rows = new ArrayList<>();
        each(table, condition, items, query, false, rows::add);
        return rows;
    }

    /** Asks several questions, in one round trip where the driver can. */
    private <T> List<T> together(List<Ask<T>> asks) {
        if (asks.size() < 2 || !dialect.pipelines()) {
            return asks.stream()
                    .map(ask -> ask.answer()
                            .apply(rows(ask.table(), Optional.of(ask.condition()), ask.items(), ask.query())))
                    .toList();
        }
        Fragment sequence = Fragment.sequence(asks.stream()
                .map(ask -> dialect.governed(ask.query(), limits.lockWait()))
                .toList());
        List<T> answers = new ArrayList<>();
        try (PreparedStatement statement = sequence.prepare(connection)) {
            statement.execute();
            for (Ask<T> ask : asks) {
                List<List<Object>> rows = new ArrayList<>();
                try (ResultSet row = statement.getResultSet()) {
                    read(row, ask.items(), rows::add);
                }
                answers.add(ask.answer().apply(rows));
                statement.getMoreResults();
            }
        } catch (SQLException failure) {
            throw failed(asks.get(0).table(), Optional.of(asks.get(0).condition()), failure);
        }
        return answers;
    }

    private static void read(ResultSet row, List<Item> items, Consumer<List<Object>> consumer) throws SQLException {
        while (row.next()) {
            List<Object> values = new ArrayList<>(items.size());
            for (int i = 0; i < items.size(); i++) {
                values.add(items.get(i).reader().read(row, i + 1));
            }
            consumer.accept(Collections.unmodifiableList(values));
        }
    }

    /** Many rows come in portions, so that the driver doesn't hold all of them. */
    private void each(
            Table table,
            Optional<Condition> condition,
            List<Item> items,
            Fragment query,
            boolean many,
            Consumer<List<Object>> consumer) {
        try (PreparedStatement statement =
                dialect.governed(query, limits.lockWait()).prepare(connection)) {
            statement.setFetchSize(many ? PORTION : 0);
            try (ResultSet row = statement.executeQuery()) {
                read(row, items, consumer);
            }
        } catch (SQLException failure) {
            throw failed(table, condition, failure);
        }
    }

    private RuntimeException failed(Table table, Optional<Condition> wanted, SQLException failure) {
        if (!dialect.isLockFailure(failure)) {
            return new DatabaseException("read " + table.name(), "Nothing was changed.", failure);
        }
        return locking()
                ? new LockNotGranted(table, wanted, failure)
                : LockedException.of(table.name(), List.of(), failure);
    }

    /** A question and what becomes of the rows that answer it. */
    private record Ask<T>(
            Table table,
            Condition condition,
            List<Item> items,
            Fragment query,
            Function<List<List<Object>>, T> answer) {}

    /** Some records of a table. */
    record Picked(Table table, Condition condition) {}

    /**
     * A few records of a table.
     *
     * @param inOrder false for any few, where there are too many to put them in order
     */
    record First(int limit, boolean inOrder, Table table, Set<Column> columns, Condition condition) {}

    /** A record: some columns exactly, and all of them as people see them. */
    record Whole(List<Object> exact, List<Object> values) {}

    /** How many records, and between which values of the columns of their keys, as text. */
    record Tally(long count, String edges) {}

    /** How many children the record with this identity has. */
    record Counted(List<Object> identity, long count) {}

    /** One key of a table's own. */
    static Condition only(Key key, Table table) {
        return new Condition.Among(table.identity(), List.of(key.values()));
    }
}
