package dev.vacancy.internal.trail;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.tables.OwnTables;
import dev.vacancy.rule.Trail;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * What makes the tables of the audit trail, and tells which of them are there, and of which version.
 *
 * @since 0.1
 */
public final class TrailDdl {
    /** What the first row of the table of runs says; a later version of the tables says another. */
    static final String VERSION = "trail 3";

    /** What the names of tables of an earlier version end in until all is taken over. */
    private static final String SET_ASIDE = "_version2";

    /** The first row, in the order of the columns: the lock of all who write a run down, and the version of the tables. */
    private static final List<String> BEGINNING = List.of(
            "0",
            "0",
            "'beginning'",
            "'" + VERSION + "'",
            "'vacancy'",
            "null",
            "null",
            "'1970-01-01T00:00:00.000000Z'",
            "''",
            "''",
            "''",
            "'{}'",
            "null",
            "null",
            "0",
            "'" + TrailTables.NOTHING + "'",
            "'" + TrailTables.NOTHING + "'",
            "'" + TrailTables.NOTHING + "'",
            "null",
            "'" + TrailTables.NOTHING + "'",
            "null");

    private final TrailTables tables;
    private final Trail trail;
    private final Dialect dialect;

    /**
     * Looks at nothing yet.
     *
     * @param tables the tables of a trail
     */
    public TrailDdl(TrailTables tables) {
        this.tables = tables;
        this.trail = tables.trail();
        this.dialect = tables.dialect();
    }

    /**
     * Returns what makes the tables.
     *
     * @return statements in their order
     */
    public List<String> ddl() {
        List<String> all = new ArrayList<>(ddlWithoutBeginning());
        all.add(beginning());
        return all;
    }

    /** The first row, without which the tables are as if they weren't there. */
    String beginning() {
        return "insert into " + tables.runs() + " (" + String.join(", ", TrailTables.COLUMNS) + ") values ("
                + String.join(", ", BEGINNING) + ")";
    }

    /**
     * Returns what makes the tables, which can't be used yet.
     *
     * @return statements in their order
     */
    private List<String> ddlWithoutBeginning() {
        return OwnTables.ddl(List.of(tables.runTable(), tables.entryTable()), dialect);
    }

    /**
     * Returns what is missing of tables of this version: columns that have come since they were made.
     *
     * @param connection an open connection
     * @return statements in their order
     * @throws SQLException when the database doesn't answer
     */
    public List<String> missing(Connection connection) throws SQLException {
        return OwnTables.missing(List.of(tables.runTable(), tables.entryTable()), dialect, connection);
    }

    /** Tells whether the first row still is as it was made. */
    boolean hasBeginning(Connection connection) throws SQLException {
        List<String> conditions = new ArrayList<>();
        for (int i = 0; i < TrailTables.COLUMNS.size(); i++) {
            String value = BEGINNING.get(i);
            conditions.add(TrailTables.COLUMNS.get(i) + (value.equals("null") ? " is null" : " = " + value));
        }
        String sql = "select 1 from " + tables.runs() + " where " + String.join(" and ", conditions);
        try (PreparedStatement query = connection.prepareStatement(sql);
                ResultSet row = query.executeQuery()) {
            return row.next();
        }
    }

    /**
     * Sees to it that the tables are there and of this version.
     *
     * @param connection an open connection
     * @throws InvalidRequestException when they aren't
     * @throws SQLException when the database doesn't answer
     */
    public void require(Connection connection) throws SQLException {
        Optional<String> version = version(connection);
        if (version.isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.NO_STATE_TABLES,
                    "The tables of the audit trail are missing: " + trail.runs() + " and " + trail.entries() + ".",
                    "Make them by the statements of ddl(), or 'vacancy ddl --apply'; or leave the trail out of the rules.");
        }
        if (!version.get().equals(VERSION)) {
            throw new InvalidRequestException(
                    FailureCode.NO_STATE_TABLES,
                    "The tables of the audit trail are of another version: '" + version.get() + "' instead of '"
                            + VERSION + "'.",
                    "Take them over by Ddl.apply(), or 'vacancy ddl --apply'; or use the release of Vacancy that made them.");
        }
    }

    /**
     * Tells whether the tables are there.
     *
     * @param connection an open connection
     * @return true if they are, of whatever version
     * @throws SQLException when the database doesn't answer
     */
    public boolean areThere(Connection connection) throws SQLException {
        return version(connection).isPresent();
    }

    /**
     * Tells whether what an earlier version has written is still to be taken over.
     *
     * @param connection an open connection
     * @return true if its tables are there, under their own names or set aside
     * @throws SQLException when the database doesn't answer
     */
    public boolean areOld(Connection connection) throws SQLException {
        boolean begun = hasTable(connection, trail.runs() + SET_ASIDE) && !areCurrent(connection);
        return begun || version(connection).equals(Optional.of(Version2.VERSION));
    }

    /**
     * Tells whether the tables are there and of this version.
     *
     * @param connection an open connection
     * @return true if they can be used
     * @throws SQLException when the database doesn't answer
     */
    public boolean areCurrent(Connection connection) throws SQLException {
        return version(connection).equals(Optional.of(VERSION));
    }

    /**
     * Returns what sets the tables of an earlier version aside and makes those of this one.
     *
     * @param connection an open connection
     * @return statements in their order, as far as that isn't done yet
     * @throws SQLException when the database doesn't answer
     */
    public List<String> remaking(Connection connection) throws SQLException {
        List<String> statements = new ArrayList<>();
        boolean old = version(connection).equals(Optional.of(Version2.VERSION));
        if (old && hasTable(connection, trail.runs() + SET_ASIDE)) {
            throw new InvalidRequestException(
                    FailureCode.RUN_STATE,
                    "There is a table " + trail.runs() + SET_ASIDE
                            + " already, where the trail of version 2 would be set aside.",
                    "Nothing was changed; give that table another name.");
        }
        for (String name : List.of(trail.entries(), trail.runs())) {
            if (!hasTable(connection, name + SET_ASIDE)) {
                statements.add(dialect.renaming(tables.prefix(), name, name + SET_ASIDE));
            }
        }
        if (!statements.isEmpty() || !hasTable(connection, trail.entries())) {
            statements.addAll(ddlWithoutBeginning());
        }
        return statements;
    }

    String runsSetAside() {
        return tables.prefix() + trail.runs() + SET_ASIDE;
    }

    String entriesSetAside() {
        return tables.prefix() + trail.entries() + SET_ASIDE;
    }

    /**
     * Names the tables that were taken over and are still there, as a process ended before it removed them.
     *
     * @param connection an open connection
     * @return their names; none where all is as it should be
     * @throws SQLException when the database doesn't answer
     */
    public List<String> leftOver(Connection connection) throws SQLException {
        List<String> left = new ArrayList<>();
        if (areCurrent(connection)) {
            for (String name : List.of(trail.entries(), trail.runs())) {
                if (hasTable(connection, name + SET_ASIDE)) {
                    left.add(tables.prefix() + name + SET_ASIDE);
                }
            }
        }
        return left;
    }

    private boolean hasTable(Connection connection, String name) throws SQLException {
        return dialect.hasTable(connection, trail.schema(), name);
    }

    private Optional<String> version(Connection connection) throws SQLException {
        if (!hasTable(connection, trail.runs())) {
            return Optional.empty();
        }
        try (PreparedStatement query =
                        connection.prepareStatement("select kind from " + tables.runs() + " where place = 0");
                ResultSet row = query.executeQuery()) {
            return row.next() ? Optional.of(row.getString(1)) : Optional.empty();
        }
    }
}
