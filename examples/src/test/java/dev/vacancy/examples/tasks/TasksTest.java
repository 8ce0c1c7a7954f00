package dev.vacancy.examples.tasks;

import static org.assertj.core.api.Assertions.assertThat;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.demo.Larkmoor;
import dev.vacancy.rule.Ddl;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Set;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The daily tasks are done with few types from few packages, and done. */
class TasksTest {
    private static final Pattern IMPORT = Pattern.compile("import (dev\\.vacancy(?:\\.[a-z]+)*)\\.([A-Z]\\w*)");

    private final HikariDataSource database = new HikariDataSource();

    @BeforeEach
    void makeLarkmoor() throws SQLException {
        database.setJdbcUrl("jdbc:h2:mem:tasks");
        try (Connection connection = database.getConnection()) {
            Larkmoor.create(connection, 1);
            connection
                    .createStatement()
                    .execute(
                            "insert into keeper values (77, 'Hesper Vale', 'hesper@larkmoor.example', current_date, null)");
        }
    }

    @AfterEach
    void close() {
        database.close();
    }

    @ParameterizedTest
    @CsvSource({
        "src/test/java/dev/vacancy/examples/tasks/DeleteByKey.java, 4, 1",
        "src/test/java/dev/vacancy/examples/tasks/AskFirst.java, 6, 1",
        "src/test/java/dev/vacancy/examples/tasks/SoftDeleteAndRestore.java, 9, 3",
        "src/test/java/dev/vacancy/examples/tasks/BulkDeletion.java, 8, 2",
        "web/src/test/java/dev/vacancy/examples/web/tasks/OfferOverHttp.java, 6, 2"
    })
    void aTaskNamesFewTypesFromFewPackages(Path source, int types, int packages) throws IOException {
        List<MatchResult> imports =
                IMPORT.matcher(Files.readString(source)).results().toList();

        Set<String> named = imports.stream().map(MatchResult::group).collect(Collectors.toSet());
        Set<String> from = imports.stream().map(each -> each.group(1)).collect(Collectors.toSet());
        assertThat(named).isNotEmpty().hasSizeLessThanOrEqualTo(types);
        assertThat(from).hasSizeLessThanOrEqualTo(packages);
    }

    @Test
    void oneIsDeleted() throws SQLException {
        assertThat(DeleteByKey.deleteHive(database, 11)).isGreaterThan(1);

        assertThat(count("hive where hive_id = 11")).isZero();
    }

    @Test
    void whoeverSaysNoDeletesNothing() throws SQLException {
        assertThat(AskFirst.deleteHive(database, 12, question -> "no")).isZero();
        assertThat(count("hive where hive_id = 12")).isEqualTo(1);

        assertThat(AskFirst.deleteHive(database, 12, question -> "yes")).isGreaterThan(1);
        assertThat(count("hive where hive_id = 12")).isZero();
    }

    @Test
    void aKeeperLeavesAndComesBack() throws SQLException {
        SoftDeleteAndRestore.leaveAndComeBack(database, 77, "yes");

        assertThat(count("keeper where keeper_id = 77 and left_at is null")).isEqualTo(1);
        assertThat(count("vacancy_trail_entry")).isEqualTo(2);
    }

    @Test
    void manyGoInChunks() throws SQLException {
        Ddl.of(database, Ddl.Part.BULK_RUNS).apply();

        assertThat(BulkDeletion.deleteOldReadings(database)).isPositive();

        assertThat(count("reading where taken_at < timestamp '2026-03-10 00:00:00'"))
                .isZero();
    }

    private long count(String table) throws SQLException {
        try (Connection connection = database.getConnection();
                ResultSet rows = connection.createStatement().executeQuery("select count(*) from " + table)) {
            rows.next();
            return rows.getLong(1);
        }
    }
}
