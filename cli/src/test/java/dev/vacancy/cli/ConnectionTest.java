package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.demo.Larkmoor;
import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Reaching a PostgreSQL server, and being told why when that fails. */
class ConnectionTest {
    private static EmbeddedPostgres server;

    @TempDir
    private Path folder;

    @BeforeAll
    static void startServer() throws Exception {
        server = EmbeddedPostgres.builder().start();
        try (Connection connection = server.getPostgresDatabase().getConnection()) {
            Larkmoor.create(connection, 1);
        }
    }

    @AfterAll
    static void stopServer() throws Exception {
        server.close();
    }

    @Test
    void theVerbsWorkOnPostgres() throws Exception {
        configure("jdbc:postgresql://localhost:" + server.getPort() + "/postgres", "postgres");

        Tool.Result delete = Tool.process(folder, "delete", "hive", "--key", "12", "--yes");

        assertThat(delete.err()).isEmpty();
        assertThat(delete.status()).isZero();
        assertThat(delete.out()).contains("Deleted 613 records");
    }

    @Test
    void anUnreachableServerIsToldWithStatusOne() throws Exception {
        configure("jdbc:postgresql://localhost:1/larkmoor", "odile");

        Tool.Result map = Tool.process(folder, Map.of("VACANCY_PASSWORD", "honey"), "map");

        assertThat(map.status()).isEqualTo(1);
        assertThat(map.out()).isEmpty();
        assertThat(map.err())
                .startsWith("The database at 'jdbc:postgresql://localhost:1/larkmoor' can't be reached")
                .hasLineCount(2)
                .doesNotContain("honey");
    }

    @Test
    void aUrlWithoutADriverIsToldWithStatusTwo() throws Exception {
        configure("jdbc:honey://localhost/larkmoor", "odile");

        Tool.Result map = Tool.process(folder, "map");

        assertThat(map.status()).isEqualTo(2);
        assertThat(map.err()).startsWith("The tool has no driver for the URL 'jdbc:honey://localhost/larkmoor'.");
    }

    @Test
    void aWrongPasswordIsToldWithStatusTwo() throws Exception {
        DemoDatabase.copyTo(folder);

        Tool.Result map = Tool.process(folder, Map.of("VACANCY_PASSWORD", "wrong-honey"), "map");

        assertThat(map.status()).isEqualTo(2);
        assertThat(map.err())
                .startsWith("The database doesn't let user 'larkmoor' in with this password.")
                .hasLineCount(2)
                .doesNotContain("wrong-honey");
    }

    @Test
    void aMissingDatabaseFileIsNotMade() throws Exception {
        DemoDatabase.copyTo(folder);
        Files.delete(folder.resolve("larkmoor.mv.db"));

        Tool.Result map = Tool.process(folder, "map");

        assertThat(map.status()).isEqualTo(1);
        assertThat(folder.resolve("larkmoor.mv.db")).doesNotExist();
    }

    @Test
    void theDatabaseThatAnArgumentsFileNamesIsOpened() throws Exception {
        configure("jdbc:postgresql://localhost:1/larkmoor", "odile");
        Path elsewhere = Files.createDirectory(folder.resolve("elsewhere"));
        DemoDatabase.copyTo(elsewhere);
        Files.writeString(folder.resolve("arguments"), "--config=elsewhere/vacancy.yaml");

        Tool.Result map = Tool.process(folder, "map", "@arguments");

        assertThat(map.err()).isEmpty();
        assertThat(map.status()).isZero();
        assertThat(map.out()).startsWith("13 tables");
    }

    @Test
    void mistakesAreToldThoughTheServerDoesNotAnswer() throws Exception {
        try (ServerSocket silent = new ServerSocket(0)) {
            String url = "jdbc:postgresql://localhost:" + silent.getLocalPort() + "/larkmoor";
            configure(url, "odile");

            Tool.Result map = Tool.process(folder, "map", "--no-such-option");

            assertThat(map.status()).isEqualTo(2);
            assertThat(map.err()).startsWith("Unknown option: '--no-such-option'");

            Files.writeString(
                    folder.resolve("vacancy.yaml"), "database:\n  url: " + url + "\nrules:\n  hive.queen_id: blok\n");
            Tool.Result delete = Tool.process(folder, "delete", "hive", "--key", "12", "--yes");

            assertThat(delete.status()).isEqualTo(2);
            assertThat(delete.err()).startsWith("vacancy.yaml, line 4: ");
        }
    }

    private void configure(String url, String user) throws Exception {
        Files.writeString(folder.resolve("vacancy.yaml"), "database:\n  url: " + url + "\n  user: " + user + "\n");
    }
}
