package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A long list of keys takes a few bytes for each of them; the server is a process of its own. */
class ManyKeysTest {
    private static final int KEYS = 100_000;
    private static final Map<String, String> LITTLE_MEMORY = Map.of("JAVA_TOOL_OPTIONS", "-Xmx32m");

    @TempDir
    private Path folder;

    @Test
    void aHundredThousandKeysNeedThirtyTwoMegabytes() throws Exception {
        try (EmbeddedPostgres server = EmbeddedPostgres.builder().start();
                Connection connection = server.getPostgresDatabase().getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute("create table hive (hive_id integer primary key)");
            statement.execute("create table reading (reading_id integer primary key,"
                    + " hive_id integer not null references hive (hive_id) on delete cascade)");
            statement.execute("create index reading_hive on reading (hive_id)");
            statement.execute("insert into hive select * from generate_series(1, " + (KEYS + 5) + ")");
            statement.execute("insert into reading select n, n from generate_series(10, " + KEYS + ", 10) n");
            Files.writeString(
                    folder.resolve("vacancy.yaml"),
                    "database:\n  url: jdbc:postgresql://localhost:" + server.getPort()
                            + "/postgres\n  user: postgres\n");
            Files.write(folder.resolve("keys.csv"), keys());

            Tool.Result preview = Tool.process(folder, LITTLE_MEMORY, "preview", "hive", "--keys-from", "keys.csv");
            Tool.Result delete = Tool.process(
                    folder,
                    LITTLE_MEMORY,
                    "delete",
                    "hive",
                    "--keys-from",
                    "keys.csv",
                    "--max-per-transaction",
                    "1000000",
                    "--yes");

            assertThat(preview.status()).as(preview.err()).isZero();
            assertThat(preview.out()).contains("Deletes 110,000 records: hive 100,000, reading 10,000");
            assertThat(delete.status()).as(delete.err()).isZero();
            assertThat(delete.out()).contains("Deleted 110,000 records");
            try (ResultSet left = statement.executeQuery("select count(*) from hive")) {
                left.next();
                assertThat(left.getInt(1)).isEqualTo(5);
            }
        }
    }

    private static List<String> keys() {
        List<String> keys = new ArrayList<>(List.of("hive_id"));
        for (int key = 1; key <= KEYS; key++) {
            keys.add(String.valueOf(key));
        }
        return keys;
    }
}
