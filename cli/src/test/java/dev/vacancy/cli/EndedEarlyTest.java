package dev.vacancy.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.cli.asking.BulkWork;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.Paint;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.Terminal;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.rule.Ddl;
import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicBoolean;
import javax.sql.DataSource;
import org.h2.api.Trigger;
import org.h2.jdbcx.JdbcDataSource;
import org.junit.jupiter.api.Test;

/** The server of a bulk run dies in the middle: what is gone isn't called unchanged. */
class EndedEarlyTest {
    @Test
    void theRunWhatWasDoneAndTheWayOnAreTold() throws SQLException {
        JdbcDataSource database = new JdbcDataSource();
        database.setURL("jdbc:h2:mem:ended_early;DB_CLOSE_DELAY=-1");
        run(
                database,
                "create table hive (hive_id integer primary key)",
                "insert into hive values (1), (2), (3), (4), (5), (6)");
        AtomicBoolean dead = new AtomicBoolean();
        Vacancy vacancy = Vacancy.over(dying(database, dead));
        BulkRuns runs = vacancy.bulk();
        Ddl.of(database, Ddl.Part.BULK_RUNS).apply();
        UUID run = runs.start(
                        Selection.of("hive").where(Criteria.parse("hive_id < 6")),
                        By.user("odile"),
                        BulkOptions.defaults())
                .runId();
        PrintStream err = new PrintStream(new ByteArrayOutputStream(), true, StandardCharsets.UTF_8);
        Surroundings surroundings =
                new Surroundings(err, err, Terminal.ofThisProcess(err), new Paint(false), Path.of(""));
        BulkWork work = new BulkWork(runs, BulkOptions.defaults().chunk(2), surroundings, "vacancy runs resume " + run);
        run(database, "create trigger dies after delete on hive for each row call '" + Dies.class.getName() + "'");
        Dies.dead = dead;

        assertThatThrownBy(() -> work.on(run, Optional.empty())).isInstanceOfSatisfying(ToolException.class, early -> {
            assertThat(early.exitStatus()).isEqualTo(ExitStatus.SOME_FAILED);
            assertThat(early.problem())
                    .contains(run.toString(), "of 5 records are dealt with so far", "ended early")
                    .doesNotContain("Nothing was changed");
            assertThat(early.remedy()).contains("vacancy runs resume " + run);
        });

        try (Connection connection = database.getConnection();
                ResultSet left = connection.createStatement().executeQuery("select count(*) from hive")) {
            left.next();
            assertThat(left.getInt(1)).isBetween(2, 5);
        }
    }

    private static void run(DataSource database, String... statements) throws SQLException {
        try (Connection connection = database.getConnection();
                Statement statement = connection.createStatement()) {
            for (String sql : statements) {
                statement.execute(sql);
            }
        }
    }

    /** Makes the server die after some records. */
    public static final class Dies implements Trigger {
        private static AtomicBoolean dead = new AtomicBoolean();
        private static int fired;

        @Override
        public void fire(Connection connection, Object[] before, Object[] after) {
            dead.set(++fired >= 4);
        }
    }

    private static DataSource dying(DataSource source, AtomicBoolean dead) {
        return (DataSource) Proxy.newProxyInstance(
                EndedEarlyTest.class.getClassLoader(),
                new Class<?>[] {DataSource.class},
                (proxy, method, arguments) -> {
                    if (dead.get() && method.getName().equals("getConnection")) {
                        throw new SQLException("Connection refused", "08001");
                    }
                    try {
                        return method.invoke(source, arguments);
                    } catch (InvocationTargetException failure) {
                        throw failure.getCause();
                    }
                });
    }
}
