package dev.vacancy.web;

import dev.vacancy.By;
import dev.vacancy.Permissions;
import java.util.Map;
import java.util.function.Predicate;

/**
 * Permissions for lists of all tables: of those that aren't offered nothing is told.
 *
 * @param whole what is allowed otherwise
 * @param offered whether a table is
 */
record OnlyOffered(Permissions whole, Predicate<String> offered) implements Permissions {
    @Override
    public boolean may(By by, Action act, String table) {
        boolean ofTable = act != Action.KEEP || !table.isEmpty();
        return (!ofTable || offered.test(table)) && whole.may(by, act, table);
    }

    @Override
    public boolean may(By by, Action act, String table, Map<String, Object> values) {
        return whole.may(by, act, table, values);
    }

    @Override
    public boolean isOfRecords() {
        return whole.isOfRecords();
    }

    @Override
    public boolean withholds(By by, String table, String column) {
        return whole.withholds(by, table, column);
    }
}
