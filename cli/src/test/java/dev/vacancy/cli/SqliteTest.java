package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.demo.Larkmoor;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The tool on a database in a file of SQLite, with the demo's own rules. */
class SqliteTest {
    @TempDir
    private Path folder;

    @Test
    void theDemosDeletionIsTheSameAndTheMissingEnforcementIsTold() throws Exception {
        DemoDatabase.copyTo(folder);
        Path file = folder.resolve("vacancy.yaml");
        Files.writeString(
                file,
                Files.readString(file)
                        .replaceFirst("(?m)^  url: .*$", "  url: jdbc:sqlite:{folder}/larkmoor.db")
                        .replaceFirst("(?m)^  user: .*$", ""));
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + folder.resolve("larkmoor.db"))) {
            Larkmoor.create(connection, 1);
        }

        Tool.Result ddl = Tool.process(folder, "ddl", "--apply", "--yes");
        Tool.Result check = Tool.process(folder, "check");
        Tool.Result delete = Tool.process(folder, "delete", "hive", "--key", "12", "--yes");

        assertThat(ddl.out()).contains("create unique index");
        assertThat(check.out()).contains("links that are not enforced", "connections to SQLite");
        assertThat(delete.status()).as(delete.err()).isZero();
        assertThat(delete.out()).contains("Deleted 617 records");
    }
}
