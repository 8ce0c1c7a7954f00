package dev.vacancy.spring;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.OnEveryEngineButMariaDb;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Locale;
import java.util.Map;
import javax.sql.DataSource;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.springframework.jdbc.datasource.DataSourceTransactionManager;
import org.springframework.jdbc.datasource.DelegatingDataSource;
import org.springframework.jdbc.datasource.lookup.AbstractRoutingDataSource;
import org.springframework.transaction.support.TransactionTemplate;

/** One application, several tenants: the wrong one's record never goes. */
class TenantsTest {
    private static final By UNA = By.user("una");
    private static final Selection PIER = Selection.of("pier").key(1);
    private static final ThreadLocal<String> TENANT = ThreadLocal.withInitial(() -> "skerrow");

    private static void as(String tenant, Runnable task) {
        TENANT.set(tenant);
        try {
            task.run();
        } finally {
            TENANT.remove();
        }
    }

    private static void assertRefused(FailureCode code, ThrowingCallable attempt) {
        assertThatThrownBy(attempt)
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(code));
    }

    /** Takes each tenant to a database of its own, which for MariaDB is a schema. */
    private static DataSource routing(Map<Object, Object> databases) {
        AbstractRoutingDataSource source = new AbstractRoutingDataSource() {
            @Override
            protected Object determineCurrentLookupKey() {
                return TENANT.get();
            }
        };
        source.setTargetDataSources(databases);
        source.afterPropertiesSet();
        return source;
    }

    @OnEveryEngineButMariaDb
    void aDatabaseForEach(Engine engine) {
        Database skerrow = Marina.on(engine);
        Database osmund = Marina.on(engine);
        DataSource source = routing(Map.of("skerrow", skerrow.source(), "osmund", osmund.source()));
        Vacancy vacancy = Vacancy.over(source, Marina.RULES, SpringTransactions.of(source));
        TransactionTemplate transaction = new TransactionTemplate(new DataSourceTransactionManager(source));
        Plan plan = vacancy.plan(PIER, UNA);

        as(
                "osmund",
                () -> assertThatThrownBy(() -> vacancy.run(Approval.of(plan))).isInstanceOf(VacancyException.class));
        assertThat(skerrow.count("pier")).isEqualTo(2);
        assertThat(osmund.count("pier")).isEqualTo(2);

        as("osmund", () -> transaction.executeWithoutResult(status -> vacancy.delete(PIER, UNA)));
        assertThat(skerrow.count("pier")).isEqualTo(2);
        assertThat(osmund.count("pier")).isEqualTo(1);
        as(
                "osmund",
                () -> assertThat(vacancy.history().runs(HistoryQuery.all())).hasSize(1));
        assertThat(vacancy.history().runs(HistoryQuery.all())).isEmpty();
    }

    /** Takes each tenant to a schema of its own, on connections of one pool. */
    private static DataSource inSchema(Database database, Engine engine, Map<String, String> schemas) {
        return new DelegatingDataSource(database.source()) {
            @Override
            public Connection getConnection() throws SQLException {
                Connection connection = super.getConnection();
                String schema = schemas.get(TENANT.get());
                if (engine == Engine.MARIADB) {
                    connection.setCatalog(schema);
                } else {
                    connection.setSchema(schema);
                }
                return connection;
            }
        };
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void aSchemaForEach(Engine engine) {
        Database database = engine.database()
                .run("create table pier (pier_id integer primary key)", "insert into pier values (1), (2)");
        String other = database.schema("osmund");
        database.run(
                "create table " + other + ".pier (pier_id integer primary key)",
                "insert into " + other + ".pier values (1), (2)");
        String stored = engine == Engine.H2 ? other.toUpperCase(Locale.ROOT) : other;
        DataSource source = inSchema(database, engine, Map.of("skerrow", database.ownSchema(), "osmund", stored));
        TransactionTemplate transaction = new TransactionTemplate(new DataSourceTransactionManager(source));
        Vacancy skerrow = Vacancy.over(source, RuleBook.bySchema(), SpringTransactions.of(source));
        Plan plan = skerrow.plan(PIER, UNA);

        as("osmund", () -> {
            assertRefused(FailureCode.OTHER_SCHEMA, () -> skerrow.plan(PIER, UNA));
            assertRefused(FailureCode.OTHER_SCHEMA, () -> skerrow.run(Approval.of(plan)));
            assertRefused(
                    FailureCode.OTHER_SCHEMA,
                    () -> transaction.executeWithoutResult(status -> skerrow.delete(PIER, UNA)));

            Vacancy osmund = Vacancy.over(source, RuleBook.bySchema(), SpringTransactions.of(source));
            transaction.executeWithoutResult(status -> osmund.delete(PIER, UNA));
        });

        assertThat(database.count("pier")).isEqualTo(2);
        assertThat(database.count(other + ".pier")).isEqualTo(1);
    }

    @OnEveryEngine
    void aTableForEach(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table pier_skerrow (pier_id integer primary key)",
                        "create table pier_osmund (pier_id integer primary key)",
                        "insert into pier_skerrow values (1)",
                        "insert into pier_osmund values (1)");
        Vacancy vacancy =
                Vacancy.over(database.source()).actingFor(UNA, (by, action, table) -> table.endsWith("_skerrow"));

        vacancy.delete(Selection.of("pier_skerrow").key(1), UNA);
        assertRefused(
                FailureCode.FORBIDDEN,
                () -> vacancy.delete(Selection.of("pier_osmund").key(1), UNA));

        assertThat(database.count("pier_skerrow")).isZero();
        assertThat(database.count("pier_osmund")).isEqualTo(1);
    }
}
