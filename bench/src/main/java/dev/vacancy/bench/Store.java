package dev.vacancy.bench;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
import javax.sql.DataSource;

/** A database that gives the same data again and again. */
interface Store extends AutoCloseable {
    /** The name that figures carry. */
    String name();

    /** Puts the data back as they were; whoever was connected is no longer. */
    DataSource fresh() throws SQLException, IOException;

    @Override
    void close() throws IOException;

    /** The product and its version. */
    static String version(Store store) throws SQLException, IOException {
        try (Connection connection = store.fresh().getConnection()) {
            return connection.getMetaData().getDatabaseProductName() + " "
                    + connection.getMetaData().getDatabaseProductVersion().replaceAll(" .*", "");
        }
    }

    /** A pool of two connections, as an application would have one. */
    static HikariDataSource pool(DataSource source) {
        HikariConfig configuration = new HikariConfig();
        configuration.setDataSource(source);
        configuration.setMaximumPoolSize(2);
        return new HikariDataSource(configuration);
    }
}
