package dev.vacancy;

import java.util.Map;

/**
 * Permissions that look at more than the table.
 *
 * @param whole what they narrow
 * @param further says what somebody may do with a record
 * @param columns says what somebody isn't shown
 * @param isOfRecords whether records are looked at
 */
record NarrowedPermissions(
        Permissions whole, Permissions.OfRecords further, Permissions.Withholding columns, boolean isOfRecords)
        implements Permissions {
    @Override
    public boolean may(By by, Action act, String table) {
        return whole.may(by, act, table);
    }

    @Override
    public boolean may(By by, Action act, String table, Map<String, Object> values) {
        return whole.may(by, act, table, values) && further.may(by, act, table, values);
    }

    @Override
    public boolean withholds(By by, String table, String column) {
        return whole.withholds(by, table, column) || columns.withholds(by, table, column);
    }
}
