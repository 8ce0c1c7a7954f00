package dev.vacancy.spring;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.OnEveryEngineButMariaDb;
import javax.sql.DataSource;
import org.springframework.jdbc.datasource.DataSourceTransactionManager;
import org.springframework.jdbc.datasource.LazyConnectionDataSourceProxy;
import org.springframework.transaction.support.TransactionTemplate;

/** Applications with more than one data source. */
class DataSourcesTest {
    private static final By UNA = By.user("una");
    private static final Selection PIER = Selection.of("pier").key(1);

    private static TransactionTemplate transaction(DataSource source) {
        return new TransactionTemplate(new DataSourceTransactionManager(source));
    }

    @OnEveryEngine
    void eachIsFollowedByItself(Engine engine) {
        Database moorings = Marina.on(engine);
        Database archive = Marina.on(engine);
        Vacancy vacancy = Vacancy.over(archive.source(), Marina.RULES, SpringTransactions.of(archive.source()));

        transaction(moorings.source()).executeWithoutResult(status -> {
            vacancy.delete(PIER, UNA);
            status.setRollbackOnly();
        });

        assertThat(moorings.count("pier")).isEqualTo(2);
        assertThat(archive.count("pier")).isEqualTo(1);
    }

    /** Read-only transactions go to a replica, which stands still here; two databases of a MariaDB server aren't replicas, as their names differ. */
    @OnEveryEngineButMariaDb
    void readersAreTakenToTheReplica(Engine engine) {
        Database primary = Marina.on(engine);
        Database replica = Marina.on(engine);
        replica.run("insert into berth values (12, 1)");
        LazyConnectionDataSourceProxy source = new LazyConnectionDataSourceProxy(primary.source());
        source.setReadOnlyDataSource(replica.source());
        Vacancy vacancy = Vacancy.over(source, Marina.RULES, SpringTransactions.of(source));
        TransactionTemplate reading = transaction(source);
        reading.setReadOnly(true);

        assertThat(reading.<Long>execute(status -> vacancy.plan(PIER, UNA).total()))
                .isEqualTo(4);
        assertThat(vacancy.plan(PIER, UNA).total()).isEqualTo(3);
        assertThatThrownBy(() -> reading.executeWithoutResult(status -> vacancy.delete(PIER, UNA)))
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.READ_ONLY));
        transaction(source).executeWithoutResult(status -> vacancy.delete(PIER, UNA));

        assertThat(primary.count("pier")).isEqualTo(1);
        assertThat(replica.count("pier")).isEqualTo(2);
    }
}
