package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Statement;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A foreign key that only stands in the schema is shown as what it is. */
class NotEnforcedLinksTest {
    @TempDir
    private Path folder;

    @Test
    void theMapTellsWhatTheDatabaseDoesNotEnforce() throws Exception {
        try (EmbeddedPostgres server = EmbeddedPostgres.builder().start();
                Connection connection = server.getPostgresDatabase().getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute("create table hive (hive_id integer primary key)");
            statement.execute("create table photo (photo_id integer primary key, hive_id integer,"
                    + " foreign key (hive_id) references hive (hive_id) not enforced)");
            Files.writeString(
                    folder.resolve("vacancy.yaml"),
                    "database:\n  url: jdbc:postgresql://localhost:" + server.getPort()
                            + "/postgres\n  user: postgres\n");

            Tool.Result map = Tool.run(folder, "map");

            assertThat(map.status()).as(map.err()).isZero();
            assertThat(map.out())
                    .contains("; not enforced by the database; no index on this foreign key")
                    .doesNotContain("not declared");
        }
    }
}
