package dev.vacancy.internal.retiring;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.tables.OwnTables;
import dev.vacancy.internal.trail.HoldsInForce;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.retirement.Dependent;
import dev.vacancy.retirement.Dependent.Fate;
import dev.vacancy.retirement.Dependent.Kind;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.regex.Pattern;

/** What of ours names a column or a table: rules, holds, bulk runs, scheduled deletions, and what the trail could bring back. */
record ThingsOfOurs(Rules rules, Dialect dialect, Connection connection) {
    List<Dependent> naming(Table table, Optional<Column> column) throws SQLException {
        List<Dependent> found = new ArrayList<>();
        rules.naming(table, column)
                .forEach(
                        rule -> found.add(
                                new Dependent(
                                        Kind.RULE,
                                        rule,
                                        Fate.IN_THE_WAY,
                                        Optional.empty(),
                                        Optional.of(
                                                "Take it out of the rules first: whoever starts with them once it is gone is refused."))));
        for (StoredRun hold : holds().runs()) {
            if (hold.facts().table().equals(table.name())) {
                found.add(new Dependent(
                        Kind.HOLD,
                        hold.facts().runId() + " by " + hold.facts().actor(),
                        Fate.IN_THE_WAY,
                        Optional.empty(),
                        Optional.of("Lift the hold first.")));
            }
        }
        for (String run : openBulkRuns(table)) {
            found.add(new Dependent(
                    Kind.BULK_RUN,
                    run,
                    Fate.IN_THE_WAY,
                    Optional.empty(),
                    Optional.of("Let it end, or cancel it, first.")));
        }
        for (String name : schedules(table, column)) {
            found.add(new Dependent(
                    Kind.SCHEDULE, name, Fate.IN_THE_WAY, Optional.empty(), Optional.of("Cancel it first.")));
        }
        return found;
    }

    private HoldsInForce holds() throws SQLException {
        return rules.recording().isEmpty()
                ? HoldsInForce.NONE
                : new TrailTables(rules.recording().get().trail(), dialect).holdsInForce(connection);
    }

    private List<String> openBulkRuns(Table table) throws SQLException {
        if (!dialect.hasTable(connection, OwnTables.BULK_RUN.name())) {
            return List.of();
        }
        return texts(
                "select run_id from " + OwnTables.BULK_RUN.in(dialect)
                        + " where selected_table = ? and state not in ('done', 'cancelled') order by started_at",
                table.name());
    }

    /** What a scheduled deletion selects stands there as text, its criteria too. */
    private List<String> schedules(Table table, Optional<Column> column) throws SQLException {
        if (!dialect.hasTable(connection, OwnTables.SCHEDULED.name())) {
            return List.of();
        }
        List<String> names = new ArrayList<>();
        try (PreparedStatement query = connection.prepareStatement("select task_instance, task_data from "
                        + OwnTables.SCHEDULED.in(dialect) + " order by task_instance");
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                String data = row.getString(2);
                if (names(data, table.name())
                        && column.map(part -> names(data, part.name())).orElse(true)) {
                    names.add(row.getString(1));
                }
            }
        }
        return names;
    }

    private static boolean names(String text, String name) {
        return text != null
                && Pattern.compile("(?<!\\w)" + Pattern.quote(name.toLowerCase(Locale.ROOT)) + "(?!\\w)")
                        .matcher(text.toLowerCase(Locale.ROOT))
                        .find();
    }

    /** How many records the trail has whole, of a table that would no longer be as it was then. */
    OptionalLong restorable(Table table) throws SQLException {
        if (rules.recording().isEmpty()) {
            return OptionalLong.empty();
        }
        TrailTables trail = new TrailTables(rules.recording().get().trail(), dialect);
        return OptionalLong.of(Long.parseLong(texts(
                        "select count(*) from " + trail.entriesName()
                                + " where table_name = ? and action in ('deleted', 'marked') and content is not null",
                        table.name())
                .get(0)));
    }

    private List<String> texts(String sql, String value) throws SQLException {
        List<String> texts = new ArrayList<>();
        try (PreparedStatement query = connection.prepareStatement(sql)) {
            query.setString(1, value);
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    texts.add(row.getString(1));
                }
            }
        }
        return texts;
    }
}
