package dev.vacancy.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.Schemas;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.SQLTransientConnectionException;
import java.util.concurrent.atomic.AtomicReference;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;

/** What stands between here and the database is told by its name. What poolers and clusters answer is put into a driver's mouth. */
class UnfitConnectionTest {
    private static final By ODILE = By.user("odile");

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "POSTGRESQL | 26000 | 0    | prepared statement \"S_3\" does not exist                     | UNFIT_CONNECTION | prepareThreshold=0",
                "POSTGRESQL | 42P05 | 0    | prepared statement \"S_1\" already exists                     | UNFIT_CONNECTION | prepareThreshold=0",
                "POSTGRESQL | 08P01 | 0    | transaction blocks not allowed in statement pooling mode      | UNFIT_CONNECTION | for each statement",
                "POSTGRESQL | 25006 | 0    | cannot execute SELECT FOR UPDATE in a read-only transaction   | READ_ONLY        | a replica perhaps",
                "MARIADB    | 08S01 | 1047 | WSREP has not yet prepared node for application use           | UNFIT_CONNECTION | has lost the others"
            })
    void whatStandsInBetweenIsTold(
            Engine engine, String state, int number, String message, FailureCode code, String told)
            throws SQLException {
        Database database = Schemas.larkmoor(engine);
        AtomicReference<SQLException> failing = new AtomicReference<>();
        Vacancy vacancy = Vacancy.over(failing(database.source(), "prepareStatement", failing));
        long before = database.count("hive");
        failing.set(new SQLException(message, state, number));

        assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(1), ODILE))
                .isInstanceOfSatisfying(VacancyException.class, refusal -> {
                    assertThat(refusal.code()).isEqualTo(code);
                    assertThat(refusal.getMessage()).contains(told).contains("Nothing was changed");
                });

        assertThat(database.count("hive")).isEqualTo(before);
    }

    /** A driver that knows several servers goes on to the next one by itself, and its connection looks well. */
    @Test
    void aCommitThatGotNoAnswerIsNotToldAsRefusedWhereTheDriverHasGoneOnToAnotherServer() {
        Database database = Schemas.larkmoor(Engine.POSTGRESQL);
        AtomicReference<SQLException> failing = new AtomicReference<>();
        Vacancy vacancy = Vacancy.over(failing(database.source(), "commit", failing));
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(12), ODILE));
        failing.set(new SQLTransientConnectionException("reconnected during a COMMIT statement", "25S03"));

        assertThatThrownBy(() -> vacancy.run(approval)).isInstanceOf(OutcomeUnknownException.class);
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "MARIADB"})
    void aConnectionThatCannotBeGivenBackAsItCameIsClosed(Engine engine) throws SQLException {
        Database database = Schemas.larkmoor(engine);
        try (Connection only = database.connect()) {
            AtomicReference<SQLException> failing = new AtomicReference<>();
            Vacancy vacancy = Vacancy.over(failing(Database.always(only), "setAutoCommit", failing));
            failing.set(new SQLException("prepared statement \"S_1\" does not exist", "26000"));

            vacancy.plan(Selection.of("hive").key(12), ODILE);

            assertThat(only.isClosed()).isTrue();
        }
    }

    private static DataSource failing(DataSource source, String method, AtomicReference<SQLException> failing) {
        return proxy(DataSource.class, source, method, failing);
    }

    /** Of a setting it is the way back that fails. */
    private static <T> T proxy(Class<T> type, T real, String failingMethod, AtomicReference<SQLException> failing) {
        return type.cast(Proxy.newProxyInstance(
                UnfitConnectionTest.class.getClassLoader(), new Class<?>[] {type}, (proxy, method, arguments) -> {
                    boolean off = arguments != null && Boolean.FALSE.equals(arguments[0]);
                    if (method.getName().equals(failingMethod) && !off && failing.get() != null) {
                        throw failing.get();
                    }
                    try {
                        Object result = method.invoke(real, arguments);
                        return result instanceof Connection connection
                                ? proxy(Connection.class, connection, failingMethod, failing)
                                : result;
                    } catch (InvocationTargetException failure) {
                        throw failure.getCause();
                    }
                }));
    }
}
