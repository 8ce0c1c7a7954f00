package dev.vacancy;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.failure.DatabaseException;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.running.ManagedTransactions;
import dev.vacancy.internal.running.OwnTransactions;
import dev.vacancy.internal.running.Preparation;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.schema.CatalogReader;
import dev.vacancy.internal.tables.OwnTable;
import dev.vacancy.internal.tables.OwnTables;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.TrailDdl;
import dev.vacancy.internal.trail.TrailKey;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.internal.trail.TrailUpgrade;
import dev.vacancy.plan.Limits;
import dev.vacancy.rule.LatestRow;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RuleBook.MarkerOfTable;
import dev.vacancy.rule.RuleBook.ModifiedColumns;
import dev.vacancy.rule.RuleBook.SoftTable;
import dev.vacancy.rule.RuleBook.VersionColumn;
import dev.vacancy.rule.Rules;
import dev.vacancy.rule.RulesException;
import dev.vacancy.rule.SoftDelete;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import javax.sql.DataSource;

/**
 * What a database still needs for the rules: the tables of the audit trail, columns that mark and stamp, indexes, views of the
 * active records.
 *
 * <pre>{@code
 * Ddl ddl = Ddl.of(dataSource, rules);
 * ddl.statements().forEach(System.out::println);
 * ddl.apply();
 * }</pre>
 *
 * @since 0.1
 */
public final class Ddl {
    /** What the database with the least room has for a name, in bytes. */
    private static final int LONGEST_NAME = 63;

    private static final int DIGITS_OF_NAME = 8;
    private static final int SHORT_WORD = 20;

    /** What is kept in tables of ours, beside the audit trail. */
    public enum Part {
        /** Bulk runs and their records. */
        BULK_RUNS,
        /** Which signed approvals were redeemed, and what came of them. */
        APPROVALS,
        /** Scheduled deletions. */
        SCHEDULE;

        private List<OwnTable> tables() {
            return switch (this) {
                case BULK_RUNS -> List.of(OwnTables.BULK_RUN, OwnTables.BULK_RECORD);
                case APPROVALS -> List.of(OwnTables.REDEEMED);
                case SCHEDULE -> List.of(OwnTables.SCHEDULED);
            };
        }
    }

    private final Transactions transactions;
    private final Dialect dialect;
    private final List<String> statements;
    private final List<String> remarks;
    private final Optional<TrailUpgrade> upgrade;

    private Ddl(
            Transactions transactions,
            Dialect dialect,
            List<String> statements,
            List<String> remarks,
            Optional<TrailUpgrade> upgrade) {
        this.upgrade = upgrade;
        this.transactions = transactions;
        this.dialect = dialect;
        this.statements = List.copyOf(statements);
        this.remarks = List.copyOf(remarks);
    }

    /**
     * Works out what is missing, of tables of ours that an earlier version has made as well. Changes nothing.
     *
     * @param dataSource where connections come from
     * @param rules the rules that it is for
     * @param parts what else is to be kept in the database
     * @return the statements, in their order
     * @throws DatabaseException when the database can't be read
     * @throws RulesException when the rules ask for more than columns that are missing
     */
    public static Ddl of(DataSource dataSource, RuleBook rules, Part... parts) {
        OwnTransactions own = OwnTransactions.over(dataSource);
        return of(own, own.dialect(), rules, Set.of(parts));
    }

    /**
     * Works out what is missing of some tables of ours, whatever the rules are. Changes nothing.
     *
     * @param dataSource where connections come from
     * @param parts what is to be kept in the database
     * @return the statements, in their order
     * @throws DatabaseException when the database can't be read
     */
    public static Ddl of(DataSource dataSource, Part... parts) {
        OwnTransactions own = OwnTransactions.over(dataSource);
        List<OwnTable> tables =
                Stream.of(parts).flatMap(part -> part.tables().stream()).toList();
        List<String> statements = new Preparation(tables, own.dialect(), own).missing();
        return new Ddl(own, own.dialect(), statements, List.of(), Optional.empty());
    }

    /**
     * Does the same where somebody else manages transactions: inside an open one the statements are part of it, where the database can do
     * that.
     *
     * @param dataSource where connections come from when no transaction is open
     * @param rules the rules that it is for
     * @param source tells of the transaction that is open on the thread
     * @param parts what else is to be kept in the database
     * @return the statements, in their order
     * @throws DatabaseException when the database can't be read
     * @throws RulesException when the rules ask for more than columns that are missing
     */
    public static Ddl of(DataSource dataSource, RuleBook rules, TransactionSource source, Part... parts) {
        OwnTransactions own = OwnTransactions.over(dataSource, true);
        Transactions managed =
                new ManagedTransactions(Managed.by(source), own, Limits.usual().lockWait());
        return of(managed, own.dialect(), rules, Set.of(parts));
    }

    private static Ddl of(Transactions transactions, Dialect dialect, RuleBook rules, Set<Part> parts) {
        return transactions.reading(connection -> {
            Catalog catalog = CatalogReader.read(connection, dialect, rules.schemas(), rules.ownTables());
            Missing missing = new Missing(dialect, catalog, connection);
            missing.columns(rules);
            if (rules.trail().isPresent()) {
                missing.trail(new TrailTables(rules.trail().get(), dialect));
            }
            missing.others(parts);
            if (missing.isWhole()) {
                missing.softTables(Rules.of(rules, catalog, Clock.system(ZoneId.systemDefault())));
            } else {
                missing.remarks.add("Once these columns are there, ask again for the views and indexes on them.");
            }
            return new Ddl(transactions, dialect, missing.statements, missing.remarks, missing.upgrade);
        });
    }

    /**
     * Returns the statements.
     *
     * @return SQL for the database at hand, in the order in which it has to be run; empty if nothing is missing
     */
    public List<String> statements() {
        return statements;
    }

    /**
     * Tells whether anything is to be done.
     *
     * @return true if statements are missing, or what an earlier version has written is still to be taken over
     */
    public boolean isNeeded() {
        return !statements.isEmpty() || upgrade.isPresent();
    }

    /**
     * Returns what no statement can do.
     *
     * @return sentences for people
     */
    public List<String> remarks() {
        return remarks;
    }

    /**
     * Runs the statements. Some databases commit each of them by itself.
     *
     * @return how many there were
     * @throws DatabaseException when the database refuses one; where it commits each, those before it are done
     * @throws InvalidRequestException inside a transaction of the application's that the statements would commit
     */
    public int apply() {
        if (isNeeded()) {
            Preparation.requireNobodyElses(dialect, transactions);
        }
        return transactions.writing(connection -> {
            try (Statement statement = connection.createStatement()) {
                for (String sql : statements) {
                    statement.execute(sql);
                }
                if (upgrade.isPresent()) {
                    upgrade.get().copy(connection, Clock.systemUTC());
                    for (String sql : upgrade.get().removal()) {
                        statement.execute(sql);
                    }
                }
                return statements.size();
            } catch (SQLException refused) {
                throw new DatabaseException(
                        "make what the rules need", "Run the statements by hand as the owner of the tables.", refused);
            }
        });
    }

    /** Collects what is missing. */
    private static final class Missing {
        private Optional<TrailUpgrade> upgrade = Optional.empty();
        private final Dialect dialect;
        private final Catalog catalog;
        private final Connection connection;
        private final List<String> statements = new ArrayList<>();
        private final List<String> remarks = new ArrayList<>();
        private final Set<String> columns = new LinkedHashSet<>();

        Missing(Dialect dialect, Catalog catalog, Connection connection) {
            this.dialect = dialect;
            this.catalog = catalog;
            this.connection = connection;
        }

        boolean isWhole() {
            return columns.isEmpty();
        }

        /** Tables of ours that are asked for, and those that an earlier version has made. */
        void others(Set<Part> asked) throws SQLException {
            for (Part part : Part.values()) {
                List<String> missing = OwnTables.missing(part.tables(), dialect, connection);
                if (asked.contains(part) || !missing.equals(OwnTables.ddl(part.tables(), dialect))) {
                    statements.addAll(missing);
                }
            }
        }

        void trail(TrailTables tables) throws SQLException {
            TrailDdl ddl = new TrailDdl(tables);
            if (ddl.areOld(connection)) {
                upgrade = Optional.of(new TrailUpgrade(tables, this::keyOf));
                statements.addAll(ddl.remaking(connection));
                remarks.add(
                        "The audit trail is of an earlier version. These statements set it aside and make the tables anew;"
                                + " what it holds is taken over by 'vacancy ddl --apply', or Ddl.apply().");
            } else if (!ddl.areThere(connection)) {
                statements.addAll(ddl.ddl());
            } else {
                statements.addAll(ddl.missing(connection));
            }
            List<String> left = ddl.leftOver(connection);
            if (!left.isEmpty()) {
                remarks.add("What stands in " + String.join(" and ", left)
                        + " was taken over into the audit trail; drop these tables when you don't want them any more.");
            }
        }

        /** The key of a record as the trail has it, if the table is still there and its image has the key. */
        private Optional<String> keyOf(String name, Map<String, Object> image) {
            return catalog.tables().stream()
                    .filter(table ->
                            table.name().equals(name) && !table.identity().isEmpty())
                    .filter(table -> table.identity().stream().allMatch(column -> image.get(column.name()) != null))
                    .map(table -> TrailKey.of(table.identity().stream()
                            .map(column -> dialect.codec(column).keyOf(image.get(column.name())))
                            .toList()))
                    .findFirst();
        }

        void columns(RuleBook rules) {
            for (MarkerOfTable marker : rules.markers()) {
                Table table = catalog.table(marker.table());
                if (marker.marker() instanceof Marker.Flag flag) {
                    column(table, flag.column(), flagType(flag.active()) + " not null");
                } else if (!(marker.marker() instanceof LatestRow)) {
                    boolean day = marker.marker() instanceof Marker.EndDate;
                    column(table, marker.marker().column(), day ? "date" : dialect.instantType());
                }
            }
            for (SoftTable soft : rules.softTables()) {
                Table table = catalog.table(soft.table());
                soft.soft().when().ifPresent(column -> column(table, column, dialect.instantType()));
                soft.soft().who().ifPresent(column -> column(table, column, "varchar(200)"));
                soft.soft().why().ifPresent(column -> column(table, column, "varchar(1000)"));
            }
            for (ModifiedColumns modified : rules.modified()) {
                Table table = catalog.table(modified.table());
                modified.by().ifPresent(column -> column(table, column, "varchar(200)"));
                modified.at().ifPresent(column -> column(table, column, dialect.instantType()));
            }
            for (VersionColumn version : rules.versions()) {
                int point = version.place().lastIndexOf('.');
                if (point > 0) {
                    column(
                            catalog.table(version.place().substring(0, point)),
                            version.place().substring(point + 1),
                            "bigint default 0 not null");
                }
            }
        }

        private String flagType(Object active) {
            if (active instanceof Boolean truth) {
                return "boolean default " + dialect.truthLiteral(truth);
            }
            return active instanceof Integer || active instanceof Long || active instanceof Short
                    ? "integer default " + active
                    : "varchar(" + Math.max(SHORT_WORD, active.toString().length()) + ") default "
                            + dialect.textLiteral(active.toString());
        }

        /** A name of ours; one that is too long for some database ends in a digest of the whole. */
        private static String named(String whole) {
            if (bytes(whole) <= LONGEST_NAME) {
                return whole;
            }
            String digits = "_" + Chain.digest(whole).substring(0, DIGITS_OF_NAME);
            int end = 0;
            while (bytes(whole.substring(0, whole.offsetByCodePoints(end, 1)) + digits) <= LONGEST_NAME) {
                end = whole.offsetByCodePoints(end, 1);
            }
            return whole.substring(0, end) + digits;
        }

        private static int bytes(String text) {
            return text.getBytes(StandardCharsets.UTF_8).length;
        }

        private void column(Table table, String name, String definition) {
            try {
                table.column(name);
            } catch (InvalidRequestException missing) {
                if (columns.add(table + "." + name)) {
                    statements.add("alter table " + dialect.name(table) + " add column " + name + " " + definition);
                }
            }
        }

        void softTables(Rules rules) throws SQLException {
            for (Table table : catalog.tables()) {
                SoftDelete soft = rules.softness().tables().get(table);
                if (soft != null) {
                    soft(table, soft, rules);
                }
            }
        }

        private void soft(Table table, SoftDelete soft, Rules rules) throws SQLException {
            Active active = Active.of(table, rules, dialect, Clock.systemUTC());
            Column marker = table.column(rules.softness().markers().get(table).column());
            String base = table.storedName();
            String index = named(base + "_by_" + marker.storedName());
            List<Column> indexed = new ArrayList<>();
            rules.latestRow(table)
                    .ifPresent(latest -> latest.key().forEach(column -> indexed.add(table.column(column))));
            indexed.add(marker);
            if (!table.isIndexed(indexed)) {
                statements.add("create index " + dialect.quote(index) + " on " + dialect.nameInIndex(table) + " ("
                        + String.join(", ", dialect.names(indexed)) + ")");
            }
            if (!dialect.namespace().own(connection).equals(table.schema())
                    && !table.schema().isEmpty()) {
                remarks.add("A view of the active records of " + table
                        + " isn't made, as its schema isn't the current one: make it with what Active.sql() gives.");
            } else {
                String plain = named("active_" + base.toLowerCase(Locale.ROOT));
                boolean odd = !plain.matches("[a-z_0-9]+");
                String view = odd ? named("active_" + base) : plain;
                if (!dialect.hasTable(connection, view)) {
                    statements.add("create view " + (odd ? dialect.quote(view) : view) + " as select * from "
                            + dialect.name(table) + " where " + active.sql());
                }
            }
            for (List<String> columns : soft.unique()) {
                List<Column> unique = columns.stream().map(table::column).toList();
                String names = unique.stream().map(Column::name).collect(Collectors.joining(", "));
                boolean told = rules.latestRow(table).isPresent();
                String uniqueIndex = named(base + "_active_"
                        + unique.stream().map(Column::storedName).collect(Collectors.joining("_")));
                Optional<String> made = told
                        ? Optional.empty()
                        : dialect.uniqueAmong(
                                dialect.quote(uniqueIndex),
                                dialect.nameInIndex(table),
                                dialect.names(unique),
                                active.sql());
                if (made.isEmpty()) {
                    remarks.add((told
                                    ? "Which row is the latest can't be told by an index"
                                    : dialect.name() + " has no unique index over some of the records only")
                            + ": that no two active"
                            + " records of " + table + " have the same " + names
                            + " is checked at a restore, and is up to"
                            + " the application otherwise.");
                } else if (!dialect.hasIndex(connection, uniqueIndex)) {
                    statements.add(made.get());
                }
            }
        }
    }
}
