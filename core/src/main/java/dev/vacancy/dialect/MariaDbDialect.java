package dev.vacancy.dialect;

import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/** MariaDB, version 11.1 and later, and MySQL, version 8.0.21 and later, with tables of InnoDB. */
final class MariaDbDialect implements Dialect {
    private static final int LOCK_TIMEOUT = 1205;
    private static final int DEADLOCK = 1213;
    private static final long DEEPEST_RECURSION = 10_000_000;
    private static final Set<String> SYSTEM_SCHEMAS =
            Set.of("information_schema", "mysql", "performance_schema", "sys");

    private final String product;
    private final String recursionLimit;

    /**
     * Makes the dialect of one of the two.
     *
     * @param product the name by which the database introduces itself
     * @param recursionLimit its variable for how often a recursive query goes round
     */
    MariaDbDialect(String product, String recursionLimit) {
        this.product = product;
        this.recursionLimit = recursionLimit;
    }

    @Override
    public String name() {
        return product;
    }

    @Override
    public boolean speaks(DatabaseMetaData database) throws SQLException {
        return product.equals(database.getDatabaseProductName());
    }

    @Override
    public Namespace namespace() {
        return Namespace.CATALOG;
    }

    @Override
    public boolean isSystemSchema(String schema) {
        return SYSTEM_SCHEMAS.contains(schema.toLowerCase(Locale.ROOT));
    }

    @Override
    public String quote(String name) {
        return '`' + name.replace("`", "``") + '`';
    }

    /**
     * At this level every read of a run is of what others have committed and keeps them from adding to it: InnoDB locks
     * the gaps between the records too. Below it, a child could slip in on a link that isn't declared.
     */
    @Override
    public int writingIsolation() {
        return Connection.TRANSACTION_SERIALIZABLE;
    }

    @Override
    public List<Setting> settings(Duration longestLockWait) {
        return List.of(
                setting("innodb_lock_wait_timeout", Math.max(1, longestLockWait.toSeconds())),
                setting(recursionLimit, DEEPEST_RECURSION));
    }

    private static Setting setting(String variable, long value) {
        return new Setting("select @@session." + variable, "set session " + variable + " = ", value);
    }

    @Override
    public boolean isLockFailure(SQLException failure) {
        return failure.getErrorCode() == LOCK_TIMEOUT || failure.getErrorCode() == DEADLOCK;
    }

    @Override
    public boolean checksRowByRow() {
        return true;
    }

    /** The optimizer would read the whole table in each round and look the found rows up; this turns that round. */
    @Override
    public String joinRecursively(String table, String name, String condition) {
        return " straight_join " + table + " on " + condition;
    }

    @Override
    public Fragment value(String type, Object value) {
        return Fragment.of("?", Binding.of(value));
    }

    @Override
    public Fragment among(List<String> columns, KeySet keys) {
        List<String> values = new ArrayList<>();
        List<String> definitions = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            String path = columns.size() == 1 ? "'$'" : "'$[" + i + "]'";
            if (JsonKeys.isHexadecimal(keys, i)) {
                values.add("unhex(k" + i + ")");
                definitions.add("k" + i + " longtext path " + path);
            } else if (keys.types().get(i).equalsIgnoreCase("uuid")) {
                values.add("cast(k" + i + " as uuid)");
                definitions.add("k" + i + " char(36) path " + path);
            } else {
                values.add("k" + i);
                definitions.add("k" + i + " " + typeInJson(keys.types().get(i)) + " path " + path);
            }
        }
        String sql = (columns.size() == 1 ? columns.get(0) : "(" + String.join(", ", columns) + ")")
                + " in (select " + String.join(", ", values) + " from json_table(?, '$[*]' columns ("
                + String.join(", ", definitions)
                + ")) as vacancy_keys)";
        return Fragment.of(sql, Binding.of(JsonKeys.of(keys, value -> value)));
    }

    /** The metadata names a type without its length, and a column of a JSON table needs one. */
    private static String typeInJson(String type) {
        String known = type.toLowerCase(Locale.ROOT);
        if (known.contains("int") || known.equals("year")) {
            return known.contains("unsigned") ? "bigint unsigned" : "bigint";
        }
        if (known.startsWith("decimal") || known.startsWith("numeric")) {
            return "decimal(65, 30)";
        }
        return switch (known) {
            case "double", "float", "real" -> "double";
            case "date" -> "date";
            case "time" -> "time(6)";
            case "datetime", "timestamp" -> "datetime(6)";
            case "boolean", "bit" -> "tinyint";
            default -> "longtext";
        };
    }
}
