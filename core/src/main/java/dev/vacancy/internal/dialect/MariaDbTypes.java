package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.ColumnType;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;

/** What the information schema of MariaDB and MySQL tells of the types of columns, beyond what metadata does. */
final class MariaDbTypes {
    private static final int FINEST_FRACTION = 6;
    private static final int LONGEST_VARCHAR = 1_000;
    private static final int UUID_DIGITS = 36;
    private static final Set<String> SECONDS = Set.of("time", "datetime", "timestamp");
    private static final Map<String, Integer> JDBC_TYPES = Map.of(
            "tinyint", Types.TINYINT,
            "year", Types.SMALLINT,
            "bit", Types.BIT,
            "timestamp", Types.TIMESTAMP_WITH_TIMEZONE,
            "uuid", Types.OTHER,
            "inet4", Types.OTHER,
            "inet6", Types.OTHER);
    private static final String TYPES = "select table_schema, table_name, column_name, data_type, column_type,"
            + " character_set_name, collation_name from information_schema.columns"
            + " where table_schema not in ('information_schema', 'mysql', 'performance_schema', 'sys')";

    private MariaDbTypes() {}

    static ColumnTypes read(Connection connection) throws SQLException {
        Map<List<String>, UnaryOperator<ColumnType>> known = new HashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(TYPES);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                String type = row.getString(4).toLowerCase(Locale.ROOT);
                String whole = row.getString(5).toLowerCase(Locale.ROOT);
                String characterSet = row.getString(6);
                String collation = row.getString(7);
                known.put(
                        List.of(row.getString(1), row.getString(2), row.getString(3)),
                        reported -> type(reported, type, whole, characterSet, collation));
            }
        }
        return (schema, table, column, reported) -> known.getOrDefault(
                        List.of(schema, table, column), unknown -> unknown)
                .apply(reported);
    }

    private static ColumnType type(
            ColumnType reported, String type, String whole, String characterSet, String collation) {
        boolean unsigned = whole.contains("unsigned");
        int jdbcType = JDBC_TYPES.getOrDefault(type, reported.jdbcType());
        return new ColumnType(
                type.equals("bit") || type.equals("year") || !unsigned ? reported.name() : type + " unsigned",
                whole.startsWith("tinyint(1)") && !unsigned ? Types.BOOLEAN : jdbcType,
                reported.size(),
                fraction(type, whole, reported.scale()),
                inJson(type, whole, reported.size(), characterSet, collation),
                collation == null ? "" : characterSet + " " + collation,
                FINEST_FRACTION,
                ownForm(type, whole));
    }

    /** Times that are spans, of up to a month and negative ones too; numbers where others have true and false. */
    private static String ownForm(String type, String whole) {
        if (type.equals("time")) {
            return "-?[0-9]{1,3}:[0-9]{2}:[0-9]{2}(\\.[0-9]{1,6})?";
        }
        return whole.startsWith("tinyint(1)") || whole.startsWith("bit") ? "-?[0-9]{1,20}" : "";
    }

    private static int fraction(String type, String whole, int reported) {
        if (!SECONDS.contains(type)) {
            return reported;
        }
        int digits = whole.indexOf('(');
        return digits < 0 ? 0 : Integer.parseInt(whole.substring(digits + 1, whole.indexOf(')')));
    }

    /** What a column of a JSON table is declared as, to hold each value of the type. */
    private static String inJson(String type, String whole, int size, String characterSet, String collation) {
        if (collation != null) {
            String length = size > 0 && size <= LONGEST_VARCHAR ? "varchar(" + size + ")" : "longtext";
            return length + " character set " + characterSet + " collate " + collation;
        }
        return switch (type) {
            case "tinyint", "smallint", "mediumint", "int", "bigint" ->
                type + (whole.contains("unsigned") ? " unsigned" : "");
            case "decimal" -> whole.replace(" unsigned", "").replace(" zerofill", "");
            case "float", "double" -> "double";
            case "date" -> "date";
            case "time" -> "time(6)";
            case "datetime" -> "datetime(6)";
            case "timestamp" -> "varchar(40)";
            case "year" -> "int";
            case "bit" -> "bigint unsigned";
            // Two digits for a byte. Without a length the optimizer would compare large objects, and miss some of a
            // large set.
            default ->
                size > 0 && size <= LONGEST_VARCHAR ? "varchar(" + 2 * Math.max(size, UUID_DIGITS) + ")" : "longtext";
        };
    }
}
