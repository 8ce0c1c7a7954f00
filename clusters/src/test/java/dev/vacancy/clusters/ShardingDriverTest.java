package dev.vacancy.clusters;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Outcome;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.sql.SQLException;
import java.util.List;
import javax.sql.DataSource;
import org.apache.shardingsphere.driver.api.yaml.YamlShardingSphereDataSourceFactory;
import org.junit.jupiter.api.Test;

/** A driver that spreads hives and their treatments over two databases, by the hive. */
class ShardingDriverTest {
    private static final By NIGHTLY = By.program("nightly");

    @Test
    void itIsRefusedAndEachDatabaseBehindItIsNot() throws Exception {
        try (PostgresCluster server = PostgresCluster.startPrimary()) {
            List<String> databases = List.of(server.emptyDatabase(), server.emptyDatabase());
            databases.forEach(
                    database -> Servers.execute(
                            server.primary(database),
                            "create table hive (hive_id int primary key, name varchar(40))",
                            "create table treatment (treatment_id int primary key, hive_id int not null references hive on delete cascade)"));
            DataSource spread = spreading(server, databases);
            for (int hive = 1; hive <= 4; hive++) {
                Servers.execute(
                        spread,
                        "insert into hive (hive_id, name) values (" + hive + ", 'hive " + hive + "')",
                        "insert into treatment (treatment_id, hive_id) values (" + hive + ", " + hive + ")");
            }
            HikariConfig pooled = new HikariConfig();
            pooled.setDataSource(spread);

            refused(spread);
            try (HikariDataSource pool = new HikariDataSource(pooled)) {
                refused(pool);
            }

            Vacancy even = Vacancy.over(server.primary(databases.get(0)));
            Outcome outcome = even.delete(Selection.of("hive").key(2), NIGHTLY);
            assertThat(outcome.total()).isEqualTo(2);
            assertThat(even.list(Selection.of("hive").key(1), NIGHTLY, 10)).isEmpty();
            assertThat(Servers.rows(spread, "select hive_id from hive order by hive_id"))
                    .containsExactly("1", "3", "4");
            assertThat(Servers.rows(spread, "select hive_id from treatment order by hive_id"))
                    .containsExactly("1", "3", "4");
        }
    }

    private static void refused(DataSource source) {
        assertThatThrownBy(() -> Vacancy.over(source))
                .isInstanceOfSatisfying(
                        InvalidRequestException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.SEVERAL_SERVERS))
                .hasMessageContaining("over each of the databases behind it");
    }

    private static DataSource spreading(PostgresCluster server, List<String> databases)
            throws SQLException, IOException {
        StringBuilder yaml = new StringBuilder("databaseName: larkmoor\nmode:\n  type: Standalone\ndataSources:\n");
        for (int i = 0; i < databases.size(); i++) {
            yaml.append("""
                      ds_%d:
                        dataSourceClassName: com.zaxxer.hikari.HikariDataSource
                        driverClassName: org.postgresql.Driver
                        jdbcUrl: jdbc:postgresql://127.0.0.1:%d/%s
                        username: postgres
                        password: none
                    """.formatted(i, server.port(), databases.get(i)).indent(2));
        }
        yaml.append("rules:\n- !SHARDING\n  tables:\n");
        for (String table : List.of("hive", "treatment")) {
            yaml.append("""
                    %1$s:
                      actualDataNodes: ds_${0..1}.%1$s
                      databaseStrategy:
                        standard:
                          shardingColumn: hive_id
                          shardingAlgorithmName: by_hive
                    """.formatted(table).indent(4));
        }
        yaml.append("""
                  bindingTables:
                  - hive, treatment
                  shardingAlgorithms:
                    by_hive:
                      type: INLINE
                      props:
                        algorithm-expression: ds_${hive_id % 2}
                """);
        return YamlShardingSphereDataSourceFactory.createDataSource(
                yaml.toString().getBytes(StandardCharsets.UTF_8));
    }
}
