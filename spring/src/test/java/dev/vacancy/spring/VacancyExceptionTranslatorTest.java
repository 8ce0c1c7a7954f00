package dev.vacancy.spring;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.BlockedException;
import dev.vacancy.By;
import dev.vacancy.Limits;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.Statement;
import java.time.Duration;
import org.junit.jupiter.api.Test;
import org.springframework.context.annotation.AnnotationConfigApplicationContext;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.dao.CannotAcquireLockException;
import org.springframework.dao.DataAccessException;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.dao.IncorrectUpdateSemanticsDataAccessException;
import org.springframework.dao.InvalidDataAccessApiUsageException;
import org.springframework.dao.OptimisticLockingFailureException;
import org.springframework.dao.PermissionDeniedDataAccessException;
import org.springframework.dao.annotation.PersistenceExceptionTranslationPostProcessor;
import org.springframework.stereotype.Repository;

/** Vacancy's exceptions are Spring's in a repository of Spring's. */
class VacancyExceptionTranslatorTest {
    private static final By UNA = By.user("una");
    private static final VacancyExceptionTranslator TRANSLATOR = new VacancyExceptionTranslator();

    private static Class<? extends DataAccessException> kindOf(Runnable work) {
        try {
            work.run();
        } catch (RuntimeException thrown) {
            DataAccessException translated = TRANSLATOR.translateExceptionIfPossible(thrown);
            assertThat(translated).isNotNull();
            assertThat(translated.getCause()).isNotNull();
            return translated.getClass();
        }
        throw new AssertionError("Nothing was thrown");
    }

    @OnEveryEngine
    void eachKindHasItsCounterpart(Engine engine) throws Exception {
        Database database = Marina.on(engine);
        Vacancy vacancy = Vacancy.over(database.source(), Marina.RULES)
                .withLimits(Limits.defaults().lockWait(Duration.ofMillis(200)));
        Selection north = Selection.of("pier").key(1);
        Plan stale = vacancy.plan(north, UNA);
        database.run("insert into berth values (12, 1)");

        assertThat(kindOf(() -> vacancy.run(Approval.of(stale)))).isEqualTo(OptimisticLockingFailureException.class);
        assertThat(kindOf(() -> vacancy.delete(Selection.of("pier").key(2), UNA)))
                .isEqualTo(DataIntegrityViolationException.class);
        assertThat(kindOf(() -> vacancy.delete(Selection.of("quay").key(2), UNA)))
                .isEqualTo(InvalidDataAccessApiUsageException.class);
        assertThat(kindOf(() -> vacancy.delete(north.expecting(7), UNA)))
                .isEqualTo(IncorrectUpdateSemanticsDataAccessException.class);
        assertThat(kindOf(() ->
                        vacancy.actingFor(UNA, (by, action, table) -> false).delete(north, UNA)))
                .isEqualTo(PermissionDeniedDataAccessException.class);
        if (engine != Engine.SQLITE) {
            try (Connection holding = database.connect();
                    Statement statement = holding.createStatement()) {
                holding.setAutoCommit(false);
                statement.execute("update pier set name = 'Far North' where pier_id = 1");
                assertThat(kindOf(() -> vacancy.delete(north, UNA))).isEqualTo(CannotAcquireLockException.class);
                holding.rollback();
            }
        }
    }

    @Test
    void whatTheDatabaseSaysIsTranslatedBySpring() {
        Database database = Marina.on(Engine.POSTGRESQL)
                .run("alter table pier rename to quay", "create table pier (pier_id integer primary key)");
        Vacancy vacancy = Vacancy.over(database.source(), Marina.RULES);
        database.run("drop table pier");

        assertThat(kindOf(() -> vacancy.delete(Selection.of("pier").key(1), UNA)))
                .isAssignableTo(DataAccessException.class);
    }

    @Test
    void whatIsNotOursIsLeftAlone() {
        assertThat(TRANSLATOR.translateExceptionIfPossible(new IllegalStateException("x")))
                .isNull();
    }

    @Repository
    static class Piers {
        private final Vacancy vacancy;

        Piers(Vacancy vacancy) {
            this.vacancy = vacancy;
        }

        void delete(int pier) {
            vacancy.delete(Selection.of("pier").key(pier), UNA);
        }
    }

    @Configuration
    static class Application {
        @Bean
        static PersistenceExceptionTranslationPostProcessor translation() {
            PersistenceExceptionTranslationPostProcessor processor = new PersistenceExceptionTranslationPostProcessor();
            processor.setProxyTargetClass(true);
            return processor;
        }

        @Bean
        VacancyExceptionTranslator translator() {
            return new VacancyExceptionTranslator();
        }

        @Bean
        Vacancy vacancy() {
            return Vacancy.over(Marina.on(Engine.H2).source(), Marina.RULES);
        }

        @Bean
        Piers piers(Vacancy vacancy) {
            return new Piers(vacancy);
        }
    }

    @Test
    void aRepositoryThrowsSpringsExceptions() {
        try (AnnotationConfigApplicationContext context = new AnnotationConfigApplicationContext(Application.class)) {
            Piers piers = context.getBean(Piers.class);

            assertThatThrownBy(() -> piers.delete(2))
                    .isInstanceOf(DataIntegrityViolationException.class)
                    .hasCauseInstanceOf(BlockedException.class)
                    .hasMessageContaining("mooring 200");
        }
    }
}
