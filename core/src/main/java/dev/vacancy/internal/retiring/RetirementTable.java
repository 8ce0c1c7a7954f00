package dev.vacancy.internal.retiring;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Retiree;
import dev.vacancy.internal.tables.OwnTables;
import dev.vacancy.internal.trail.Image;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.retirement.Retired;
import dev.vacancy.retirement.Retired.State;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;

/** Our table of what has retired. */
final class RetirementTable {
    private static final int LONGEST_REASON = 1_000;

    private final Dialect dialect;
    private final String name;

    RetirementTable(Dialect dialect) {
        this.dialect = dialect;
        this.name = OwnTables.RETIREMENT.in(dialect);
    }

    private boolean isThere(Connection connection) throws SQLException {
        return dialect.hasTable(connection, OwnTables.RETIREMENT.name());
    }

    /** Refuses to begin what could not be told of. */
    void require(Connection connection) throws SQLException {
        if (!isThere(connection)) {
            throw new InvalidRequestException(
                    FailureCode.NO_STATE_TABLES,
                    "The table that knows what has retired isn't there.",
                    "Make it once by Ddl.of(dataSource, Ddl.Part.RETIREMENTS).apply(), or by 'vacancy ddl --for retirements --apply'.");
        }
    }

    List<StoredRetirement> list(Connection connection) throws SQLException {
        return isThere(connection) ? read(connection, " order by set_aside_at desc, retirement_id") : List.of();
    }

    StoredRetirement get(Connection connection, UUID id) throws SQLException {
        List<StoredRetirement> found =
                isThere(connection) ? read(connection, " where retirement_id = ?", id.toString()) : List.of();
        return found.stream()
                .findFirst()
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.UNKNOWN_RUN,
                        "There is no retirement " + id + ".",
                        "List them by 'vacancy retire', or Retirements.list()."));
    }

    private List<StoredRetirement> read(Connection connection, String where, String... values) throws SQLException {
        List<StoredRetirement> found = new ArrayList<>();
        try (PreparedStatement query = connection.prepareStatement(OwnTables.RETIREMENT.selection(dialect) + where)) {
            for (int i = 0; i < values.length; i++) {
                query.setString(i + 1, values[i]);
            }
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    found.add(read(row));
                }
            }
        }
        return found;
    }

    private static StoredRetirement read(ResultSet row) throws SQLException {
        Optional<StoredRetirement.Files> files =
                Optional.ofNullable(row.getString("files")).map(RetirementTable::files);
        Retired retired = new Retired(
                UUID.fromString(row.getString("retirement_id")),
                row.getString("table_name"),
                Optional.ofNullable(row.getString("column_name")),
                row.getString("name_aside"),
                State.valueOf(row.getString("state")),
                new By(
                        row.getString("actor"),
                        Optional.ofNullable(row.getString("reason")),
                        row.getInt("by_program") == 1),
                Instant.parse(row.getString("set_aside_at")),
                Instant.parse(row.getString("due_at")),
                files.map(StoredRetirement.Files::paths).orElse(List.of()));
        return new StoredRetirement(
                retired,
                new Retiree(
                        row.getString("stored_schema"),
                        row.getString("stored_table"),
                        Optional.ofNullable(row.getString("stored_column")),
                        row.getString("name_aside")),
                row.getInt("done"),
                Script.read(row.getString("script")),
                Optional.ofNullable(row.getString("text_aside")),
                files);
    }

    private static StoredRetirement.Files files(String written) {
        List<Object> members = Image.readList(written);
        return new StoredRetirement.Files(
                Path.of((String) members.get(0)),
                Path.of((String) members.get(1)),
                List.of((String) members.get(2), (String) members.get(3)),
                ((Number) members.get(4)).longValue());
    }

    /** Writes down that it is about to be set aside. */
    void begin(Connection connection, PlannedRetirement plan) throws SQLException {
        Retiree retiree = plan.retiree();
        update(
                connection,
                OwnTables.RETIREMENT.insertion(dialect, OwnTables.RETIREMENT.names()),
                plan.id().toString(),
                plan.table(),
                plan.column().orElse(null),
                retiree.schema(),
                retiree.table(),
                retiree.column().orElse(null),
                retiree.aside(),
                State.BEGUN.name(),
                0,
                plan.by().actor(),
                plan.by().isProgram() ? 1 : 0,
                plan.by().reason().map(RetirementTable::cut).orElse(null),
                TrailTables.text(plan.madeAt()),
                TrailTables.text(plan.dueAt()),
                plan.script().text(),
                null,
                null);
    }

    private static String cut(String reason) {
        return reason.length() <= LONGEST_REASON ? reason : reason.substring(0, LONGEST_REASON - 1) + "…";
    }

    /** Writes down how far the changes have come: all before are made, and the last one perhaps. */
    void progress(Connection connection, UUID id, int done) throws SQLException {
        update(connection, "update " + name + " set done = ? where retirement_id = ?", done, id.toString());
    }

    void move(Connection connection, UUID id, State state) throws SQLException {
        update(connection, "update " + name + " set state = ? where retirement_id = ?", state.name(), id.toString());
    }

    void setText(Connection connection, UUID id, Optional<String> text) throws SQLException {
        update(
                connection,
                "update " + name + " set text_aside = ? where retirement_id = ?",
                text.orElse(null),
                id.toString());
    }

    void setFiles(Connection connection, UUID id, StoredRetirement.Files files) throws SQLException {
        update(
                connection,
                "update " + name + " set files = ? where retirement_id = ?",
                Image.writeList(List.of(
                        files.definition().toString(),
                        files.content().toString(),
                        files.digests().get(0),
                        files.digests().get(1),
                        files.records())),
                id.toString());
    }

    void forget(Connection connection, UUID id) throws SQLException {
        update(connection, "delete from " + name + " where retirement_id = ?", id.toString());
    }

    /** Takes the one lock of a database that has only one, before anything is read. */
    void lock(Connection connection) throws SQLException {
        Optional<Fragment> first = dialect.beginWriting(name, "done");
        if (first.isPresent()) {
            update(connection, first.get().sql());
        }
    }

    private static void update(Connection connection, String sql, Object... values) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            for (int i = 0; i < values.length; i++) {
                if (values[i] instanceof Integer number) {
                    statement.setInt(i + 1, number);
                } else {
                    statement.setString(i + 1, (String) values[i]);
                }
            }
            statement.executeUpdate();
        }
    }
}
