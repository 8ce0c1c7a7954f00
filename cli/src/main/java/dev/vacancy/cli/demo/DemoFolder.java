package dev.vacancy.cli.demo;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.demo.Larkmoor;
import dev.vacancy.internal.yaml.ConfigurationReader;
import dev.vacancy.rule.Ddl;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;

/** The folder that the demo lives in. It is the demo's own as soon as it holds the mark that the demo leaves there. */
public final class DemoFolder {
    static final String CONFIGURATION = "vacancy.yaml";

    private static final String MARK = ".vacancy-demo";
    private static final String DATABASE = "larkmoor.mv.db";
    private static final List<String> FILES = List.of(DATABASE, CONFIGURATION, MARK);

    private final Path folder;

    public DemoFolder(Path folder) {
        this.folder = folder;
    }

    public Path database() {
        return folder.resolve(DATABASE);
    }

    public Path configuration() {
        return folder.resolve(CONFIGURATION);
    }

    /** Tells whether nobody needs to be asked: there is no such folder, it is empty, or it is the demo's own. */
    public boolean mayBeWritten() throws IOException {
        if (Files.exists(folder) && !Files.isDirectory(folder)) {
            throw ToolException.wrongUsage("'" + folder + "' is not a folder.", "Choose another with --dir DIR.");
        }
        return !Files.exists(folder) || Files.exists(folder.resolve(MARK)) || isEmpty();
    }

    /** Never replaces a file that somebody else made. */
    public void refuseToOverwrite() {
        for (String name : FILES) {
            if (Files.exists(folder.resolve(name))) {
                throw ToolException.wrongUsage(
                        "The folder '" + folder + "' isn't the demo's own and has a file " + name + " already.",
                        "Choose another with --dir DIR.");
            }
        }
    }

    /** Leaves nothing of an earlier demo but its configuration, which is for documents at an address. */
    public void writeForDocuments(String address) throws IOException {
        clear();
        try (InputStream configuration = DemoFolder.class.getResourceAsStream("demo-documents.yaml")) {
            String written = new String(configuration.readAllBytes(), StandardCharsets.UTF_8);
            Files.writeString(configuration(), written.replace("{address}", address));
        }
    }

    private void clear() throws IOException {
        Files.createDirectories(folder);
        for (String name : FILES) {
            Files.deleteIfExists(folder.resolve(name));
        }
        Files.writeString(
                folder.resolve(MARK), "The demo made this folder and replaces its files when it runs again.\n");
    }

    public void write() throws IOException {
        clear();
        try (InputStream configuration = DemoFolder.class.getResourceAsStream("demo-vacancy.yaml")) {
            Files.copy(configuration, configuration());
        }
        DemoPhotos.write(folder.resolve(DemoPhotos.FOLDER));
        String url = "jdbc:h2:file:" + folder.toAbsolutePath().normalize().resolve("larkmoor");
        try (Connection connection = DriverManager.getConnection(url, "larkmoor", "")) {
            Larkmoor.create(connection, 1);
        } catch (SQLException failure) {
            throw new ToolException(
                    ExitStatus.FAILED,
                    "The demo database in '" + folder + "' can't be made: " + failure.getMessage(),
                    "Check that the folder can be written and that no program has the database open.",
                    failure);
        }
        try (HikariDataSource source = new HikariDataSource()) {
            source.setJdbcUrl(url);
            source.setUsername("larkmoor");
            source.setMaximumPoolSize(1);
            Ddl.of(source, ConfigurationReader.read(configuration()).rules()).apply();
        }
        tidy(url);
    }

    /** Half the file, which every command opens, is left over from making it. */
    private static void tidy(String url) {
        try (Connection connection = DriverManager.getConnection(url, "larkmoor", "");
                Statement statement = connection.createStatement()) {
            statement.execute("shutdown compact");
        } catch (SQLException failure) {
            throw new IllegalStateException("The demo database was made, but not tidied.", failure);
        }
    }

    public void copyTo(Path target) throws IOException {
        for (String name : FILES) {
            Files.copy(folder.resolve(name), target.resolve(name), StandardCopyOption.REPLACE_EXISTING);
        }
        DemoPhotos.write(target.resolve(DemoPhotos.FOLDER));
    }

    /** Removes a copy and all that the walk left in it. */
    public static void remove(Path copy) throws IOException {
        try (Stream<Path> files = Files.walk(copy)) {
            for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
                Files.delete(file);
            }
        }
    }

    private boolean isEmpty() throws IOException {
        try (Stream<Path> files = Files.list(folder)) {
            return files.findAny().isEmpty();
        }
    }
}
