package dev.vacancy.internal.dialect;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;

/**
 * Recognises drivers that stand in front of several databases and spread the records of a table over them. They say that they are one of these
 * databases, send it whatever names no table, and take statements apart, so nothing that is asked of the database as a whole is true of all.
 */
final class ShardingDrivers {
    private static final List<String> PACKAGES = List.of("org.apache.shardingsphere.");

    private ShardingDrivers() {}

    /**
     * Refuses a connection of such a driver, behind a pool or not.
     *
     * @throws InvalidRequestException when it is one
     */
    static void refuse(Connection connection) throws SQLException {
        String driver = connection.isWrapperFor(Connection.class)
                ? connection.unwrap(Connection.class).getClass().getName()
                : connection.getClass().getName();
        if (PACKAGES.stream().anyMatch(driver::startsWith)) {
            throw new InvalidRequestException(
                            FailureCode.SEVERAL_SERVERS,
                            "This connection's driver (" + driver.substring(driver.lastIndexOf('.') + 1)
                                    + ") spreads the records of a table over several databases, which no plan could tell apart.",
                            "Make a Vacancy over each of the databases behind it, and delete where the record is.")
                    .about("driver", driver);
        }
    }
}
