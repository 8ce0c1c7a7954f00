package dev.vacancy.cli;

import dev.vacancy.cli.demo.DemoFolder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;

/** A folder with the demo's database and configuration, made once and copied for each test. */
final class DemoDatabase {
    private static Path original;

    private DemoDatabase() {}

    static synchronized void copyTo(Path folder) throws Exception {
        if (original == null) {
            original = Files.createTempDirectory("vacancy-demo-test");
            new DemoFolder(original).write();
        }
        new DemoFolder(original).copyTo(folder);
    }

    /** Reads one number from the database in a folder. */
    static long number(Path folder, String query) throws Exception {
        try (Connection connection =
                        DriverManager.getConnection("jdbc:h2:file:" + folder.resolve("larkmoor"), "larkmoor", "");
                PreparedStatement statement = connection.prepareStatement(query);
                ResultSet row = statement.executeQuery()) {
            row.next();
            return row.getLong(1);
        }
    }

    /** Gives the database in a folder a password. */
    static void protect(Path folder, String password) throws Exception {
        execute(folder, "alter user larkmoor set password '" + password + "'");
    }

    /** Runs statements on the database in a folder. */
    /** Reads rows, their values with a stroke between them. */
    static List<String> rows(Path folder, String query) throws Exception {
        List<String> rows = new ArrayList<>();
        try (Connection connection =
                        DriverManager.getConnection("jdbc:h2:file:" + folder.resolve("larkmoor"), "larkmoor", "");
                PreparedStatement statement = connection.prepareStatement(query);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                rows.add(row.getString(1) + "|" + row.getString(2));
            }
        }
        return rows;
    }

    static void execute(Path folder, String... statements) throws Exception {
        try (Connection connection =
                        DriverManager.getConnection("jdbc:h2:file:" + folder.resolve("larkmoor"), "larkmoor", "");
                Statement statement = connection.createStatement()) {
            for (String sql : statements) {
                statement.execute(sql);
            }
        }
    }

    static List<Path> files(Path folder) throws Exception {
        try (var files = Files.list(folder)) {
            return files.sorted().toList();
        }
    }
}
