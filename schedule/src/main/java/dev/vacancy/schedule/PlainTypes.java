package dev.vacancy.schedule;

import com.github.kagkarlsson.scheduler.jdbc.AutodetectJdbcCustomization;
import java.nio.charset.StandardCharsets;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import javax.sql.DataSource;

/** Keeps data as text, and times in UTC, so that one table definition serves all databases. */
final class PlainTypes extends AutodetectJdbcCustomization {
    PlainTypes(DataSource dataSource) {
        super(dataSource, true);
    }

    @Override
    public void setTaskData(PreparedStatement statement, int index, byte[] data) throws SQLException {
        statement.setString(index, data == null ? null : new String(data, StandardCharsets.UTF_8));
    }

    @Override
    public byte[] getTaskData(ResultSet row, String column) throws SQLException {
        String text = row.getString(column);
        return text == null ? null : text.getBytes(StandardCharsets.UTF_8);
    }

    /** All of the databases say it so; what the standard says instead, not all of them take. */
    @Override
    public String createSelectDueQuery(String table, int limit, String further, boolean byPriority) {
        return "select * from " + table + " where picked = ? and execution_time <= ? " + further
                + " order by execution_time limit " + limit;
    }
}
