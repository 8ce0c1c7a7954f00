package dev.vacancy.spring.boot;

import static org.assertj.core.api.Assertions.assertThat;

import ch.qos.logback.classic.Logger;
import ch.qos.logback.classic.spi.ILoggingEvent;
import ch.qos.logback.core.read.ListAppender;
import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.nio.file.Files;
import java.nio.file.Path;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.slf4j.LoggerFactory;
import org.springframework.boot.autoconfigure.AutoConfigurations;
import org.springframework.boot.diagnostics.FailureAnalysis;
import org.springframework.boot.test.context.runner.ApplicationContextRunner;

/** What an application gets by a data source and a few properties. */
class VacancyAutoConfigurationTest {
    private static final By UNA = By.user("una");

    private final Database database = Engine.H2
            .database()
            .run(
                    "create table pier (pier_id integer primary key)",
                    "create table berth (berth_id integer primary key, pier_id integer not null,"
                            + " foreign key (pier_id) references pier (pier_id))",
                    "insert into pier values (1), (2)",
                    "insert into berth values (10, 1)");

    private final ApplicationContextRunner application = new ApplicationContextRunner()
            .withConfiguration(
                    AutoConfigurations.of(VacancyAutoConfiguration.class, VacancyHealthAutoConfiguration.class))
            .withBean(DataSource.class, database::source);

    @TempDir
    private Path folder;

    private String rules(String text) throws Exception {
        Path file = folder.resolve("rules.yaml");
        Files.writeString(file, text);
        return "vacancy.rules=" + file.toUri();
    }

    @Test
    void withoutAnyRulesTheSchemaDecides() {
        application.run(context -> {
            assertThat(context).hasSingleBean(Vacancy.class);
            assertThat(context.getBean(Vacancy.class)
                            .plan(Selection.of("pier").key(1), UNA)
                            .isBlocked())
                    .isTrue();
        });
    }

    @Test
    void rulesComeFromAFileOrFromABean() throws Exception {
        String cascade = rules("rules:\n  berth.pier_id: cascade\n");

        application
                .withPropertyValues(cascade)
                .run(context -> assertThat(context.getBean(Vacancy.class)
                                .plan(Selection.of("pier").key(1), UNA)
                                .total())
                        .isEqualTo(2));
        application
                .withPropertyValues(cascade)
                .withBean(RuleBook.class, RuleBook::bySchema)
                .run(context -> assertThat(context.getBean(Vacancy.class)
                                .plan(Selection.of("pier").key(1), UNA)
                                .isBlocked())
                        .isTrue());
    }

    @Test
    void wrongRulesEndTheStartWithTheirLine() throws Exception {
        application
                .withPropertyValues(rules("rules:\n  berth.peer_id: cascade\n"))
                .run(context -> {
                    assertThat(context).hasFailed();
                    FailureAnalysis analysis = new VacancyFailureAnalyzer().analyze(context.getStartupFailure());
                    assertThat(analysis.getDescription()).contains("berth.peer_id");
                    assertThat(analysis.getAction()).isNotBlank();
                });
        application
                .withPropertyValues(rules("rulez: {}\n"))
                .run(context ->
                        assertThat(context.getStartupFailure()).rootCause().hasMessageContaining("rules.yaml, line 1"));
        application
                .withPropertyValues("vacancy.rules=classpath:nowhere.yaml")
                .run(context -> assertThat(context.getStartupFailure())
                        .rootCause()
                        .isInstanceOf(VacancyException.class)
                        .hasMessageContaining("nowhere.yaml"));
    }

    @Test
    void whatTheRulesNeedIsRequiredOrMade() {
        ApplicationContextRunner kept =
                application.withBean(RuleBook.class, () -> RuleBook.bySchema().trail(Trail.defaults()));

        kept.run(context -> assertThat(context.getStartupFailure())
                .rootCause()
                .hasMessageContaining("vacancy_trail_run")
                .hasMessageContaining("vacancy.schema=create"));
        assertThat(database.rows(
                        "select count(*) from information_schema.tables where lower(table_name) = 'vacancy_trail_run'"))
                .containsExactly("0");
        kept.withPropertyValues("vacancy.schema=none")
                .run(context -> assertThat(context.getStartupFailure())
                        .rootCause()
                        .isInstanceOf(VacancyException.class)
                        .hasMessageContaining("audit trail are missing"));
        kept.withPropertyValues("vacancy.schema=create")
                .run(context -> assertThat(context).hasNotFailed());
        kept.run(context -> assertThat(context.getBean(Vacancy.class)
                        .delete(Selection.of("pier").key(2), UNA)
                        .total())
                .isEqualTo(1));
    }

    @Test
    void whatIsRiskyIsToldOrEndsTheStart() {
        Logger logger = (Logger) LoggerFactory.getLogger(VacancyAutoConfiguration.class);
        ListAppender<ILoggingEvent> log = new ListAppender<>();
        log.start();
        logger.addAppender(log);
        database.run(
                "create table survey (survey_id integer primary key, pier_id integer)",
                "insert into survey values (1, 1), (2, 2)");
        try {
            application
                    .withPropertyValues("vacancy.check=off")
                    .run(context -> assertThat(log.list).isEmpty());
            application.run(context -> assertThat(log.list)
                    .extracting(ILoggingEvent::getFormattedMessage)
                    .anySatisfy(line -> assertThat(line).startsWith("survey.pier_id: ")));
        } finally {
            logger.detachAppender(log);
        }
        application
                .withPropertyValues("vacancy.check=fail")
                .run(context -> assertThat(context.getStartupFailure())
                        .rootCause()
                        .isInstanceOf(VacancyException.class)
                        .hasMessageContaining("vacancy.check=warn"));
    }

    @Test
    void theApplicationsOwnIsLeftAlone() {
        Vacancy own = Vacancy.over(database.source());

        application
                .withBean(Vacancy.class, () -> own)
                .run(context -> assertThat(context.getBean(Vacancy.class)).isSameAs(own));
    }

    @Test
    void ofTwoDataSourcesNoneIsGuessed() {
        application
                .withBean("other", DataSource.class, Engine.H2.database()::source)
                .run(context ->
                        assertThat(context).doesNotHaveBean(Vacancy.class).hasNotFailed());
    }

    @Test
    void limitsComeFromTheProperties() {
        application
                .withPropertyValues("vacancy.limits.lock-wait=250ms", "vacancy.limits.keys-held=7")
                .run(context -> {
                    VacancyProperties.Limits limits =
                            context.getBean(VacancyProperties.class).limits();
                    assertThat(limits.lockWait()).hasMillis(250);
                    assertThat(limits.keysHeld()).isEqualTo(7);
                });
        application
                .withPropertyValues("vacancy.limits.keys-held=-1")
                .run(context -> assertThat(context).hasFailed());
    }
}
