package dev.vacancy.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import javax.sql.DataSource;
import org.h2.jdbcx.JdbcDataSource;

/** An embedded database in a file, copied from one that is never touched. */
final class H2Store implements Store {
    private static final String ENDING = ".mv.db";

    private final Path folder;
    private int copies;

    H2Store(int hives) throws IOException, SQLException {
        folder = Files.createTempDirectory("larkmoor");
        try (Connection connection = at("larkmoor").getConnection();
                Statement statement = connection.createStatement()) {
            Yard.fill(connection, "(select x as n from system_range(1, %d))", hives);
            statement.execute("analyze");
            statement.execute("shutdown compact");
        }
    }

    @Override
    public String name() {
        return "H2";
    }

    @Override
    public DataSource fresh() throws IOException {
        Files.deleteIfExists(folder.resolve("copy" + copies + ENDING));
        copies++;
        Files.copy(
                folder.resolve("larkmoor" + ENDING),
                folder.resolve("copy" + copies + ENDING),
                StandardCopyOption.REPLACE_EXISTING);
        return at("copy" + copies);
    }

    private JdbcDataSource at(String name) {
        JdbcDataSource source = new JdbcDataSource();
        source.setURL("jdbc:h2:file:" + folder.resolve(name));
        source.setUser("sa");
        return source;
    }

    @Override
    public void close() throws IOException {
        try (var files = Files.list(folder)) {
            for (Path file : files.toList()) {
                Files.delete(file);
            }
        }
        Files.delete(folder);
    }
}
