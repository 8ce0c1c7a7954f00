package dev.vacancy.spring.boot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.Vacancy;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import io.micrometer.core.instrument.MeterRegistry;
import io.micrometer.core.instrument.simple.SimpleMeterRegistry;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.Base64;
import java.util.List;
import javax.sql.DataSource;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.springframework.boot.WebApplicationType;
import org.springframework.boot.builder.SpringApplicationBuilder;
import org.springframework.context.ApplicationContextInitializer;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.context.support.GenericApplicationContext;
import org.springframework.security.authentication.UsernamePasswordAuthenticationToken;
import org.springframework.security.core.context.SecurityContextHolder;

/** A whole application with the starter, an object mapper that makes the schema, and a web server. */
class ApplicationTest {
    static ConfigurableApplicationContext start(Database database, String... properties) {
        ApplicationContextInitializer<GenericApplicationContext> beans = context -> {
            context.registerBean("dataSource", DataSource.class, database::source);
            context.registerBean("registry", MeterRegistry.class, SimpleMeterRegistry::new);
        };
        return new SpringApplicationBuilder(MarinaApplication.class)
                .web(WebApplicationType.SERVLET)
                .initializers(beans)
                .properties(
                        "server.port=0",
                        "spring.jpa.hibernate.ddl-auto=create",
                        "spring.jpa.open-in-view=false",
                        "spring.flyway.enabled=false",
                        "spring.liquibase.enabled=false",
                        "logging.level.root=warn",
                        "vacancy.rules=classpath:marina.yaml",
                        "vacancy.schema=create",
                        "vacancy.web.path=/deletions",
                        "vacancy.web.tables=pier,berth")
                .properties(properties)
                .run();
    }

    private static HttpResponse<String> send(ConfigurableApplicationContext context, String method, String path)
            throws Exception {
        String port = context.getEnvironment().getRequiredProperty("local.server.port");
        return HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create("http://localhost:" + port + path))
                                .method(method, HttpRequest.BodyPublishers.noBody())
                                .header("X-User", "una")
                                .header("Accept", "application/json, application/problem+json")
                                .build(),
                        HttpResponse.BodyHandlers.ofString());
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void deletesWhatTheMapperHasWrittenInItsTransactions(Engine engine) {
        Database database = engine.database();
        try (ConfigurableApplicationContext context = start(database)) {
            MarinaApplication.Piers piers = context.getBean(MarinaApplication.Piers.class);
            Vacancy vacancy = context.getBean(Vacancy.class);
            piers.open(1, 3);
            piers.open(2, 1);

            assertThatThrownBy(() -> piers.close(1, false)).isInstanceOf(IllegalStateException.class);
            assertThat(piers.berths()).isEqualTo(4);
            assertThat(vacancy.history().runs(HistoryQuery.all())).isEmpty();

            assertThat(piers.close(1, true).total()).isEqualTo(4);
            assertThat(piers.berths()).isEqualTo(1);
            assertThat(vacancy.history().runs(HistoryQuery.all())).hasSize(1);

            MeterRegistry registry = context.getBean(MeterRegistry.class);
            assertThat(registry.get("vacancy.deletions")
                            .tag("table", "pier")
                            .timer()
                            .count())
                    .isEqualTo(1);
            assertThat(registry.get("vacancy.deleted.records")
                            .tag("table", "berth")
                            .counter()
                            .count())
                    .isEqualTo(3);
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void whoeverHasSignedInAsks(Engine engine) {
        try (ConfigurableApplicationContext context = start(engine.database())) {
            context.getBean(MarinaApplication.Piers.class).open(1, 1);
            MarinaApplication.Berths berths = context.getBean(MarinaApplication.Berths.class);
            assertThatThrownBy(() -> berths.giveUp(11, "sold")).hasMessageContaining("Nobody has signed in");
            SecurityContextHolder.getContext()
                    .setAuthentication(UsernamePasswordAuthenticationToken.authenticated("odile", null, List.of()));

            berths.giveUp(11, "sold");

            assertThat(context.getBean(Vacancy.class).history().runs(HistoryQuery.all()))
                    .singleElement()
                    .satisfies(run ->
                            assertThat(run.by()).isEqualTo(By.user("odile").because("sold")));
        } finally {
            SecurityContextHolder.clearContext();
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void answersOverHttp(Engine engine) throws Exception {
        try (ConfigurableApplicationContext context = start(engine.database())) {
            assertThat(send(context, "PUT", "/piers/1").statusCode()).isEqualTo(200);

            HttpResponse<String> preview = send(context, "GET", "/deletions/pier/1/deletion");
            HttpResponse<String> gone = send(context, "DELETE", "/piers/1");
            HttpResponse<String> unknown = send(context, "GET", "/deletions/vacancy_trail_run/1/deletion");

            assertThat(preview.statusCode()).as(preview.body()).isEqualTo(200);
            assertThat(preview.body()).contains("berth");
            assertThat(gone.body()).isEqualTo("3");
            assertThat(unknown.statusCode()).isEqualTo(404);
        }
    }

    @ParameterizedTest
    @EnumSource(names = "H2")
    void resourcesStandInAFolder(Engine engine) {
        for (String path : List.of("/", "deletions", "/*")) {
            assertThatThrownBy(() ->
                            start(engine.database(), "vacancy.web.path=" + path).close())
                    .rootCause()
                    .hasMessageContaining("'" + path + "'");
        }
    }

    @ParameterizedTest
    @EnumSource(names = "POSTGRESQL")
    void whatForbidsADeletionIsAProblemDetail(Engine engine) throws Exception {
        Database database = engine.database();
        try (ConfigurableApplicationContext context = start(database, "vacancy.rules=", "vacancy.mapping=false")) {
            send(context, "PUT", "/piers/1");

            HttpResponse<String> refused = send(context, "DELETE", "/piers/1");

            assertThat(refused.statusCode()).isEqualTo(409);
            assertThat(refused.headers().firstValue("Content-Type")).hasValue("application/problem+json");
            assertThat(refused.body()).contains("urn:vacancy:problem:blocked", "berth 11");
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void approvalsAreSignedWithTheKeysOfTheProperties(Engine engine) throws Exception {
        String secret = Base64.getEncoder().encodeToString(new byte[32]);
        try (ConfigurableApplicationContext context = start(
                engine.database(),
                "vacancy.web.signing-keys[0].id=autumn",
                "vacancy.web.signing-keys[0].secret=" + secret,
                "vacancy.web.signing-keys[1].id=summer",
                "vacancy.web.signing-keys[1].secret=" + secret,
                "vacancy.web.approvals-last=2m")) {
            send(context, "PUT", "/piers/1");

            HttpResponse<String> preview = send(context, "GET", "/deletions/pier/1/deletion");

            assertThat(preview.body()).contains("\"approval\":\"ey");
        }
    }

    @ParameterizedTest
    @EnumSource(names = "H2")
    void aSecretIsBase64AndLongEnough(Engine engine) {
        for (String secret : List.of("§", "c2hvcnQ=")) {
            assertThatThrownBy(() -> start(
                                    engine.database(),
                                    "vacancy.web.signing-keys[0].id=autumn",
                                    "vacancy.web.signing-keys[0].secret=" + secret)
                            .close())
                    .rootCause()
                    .hasMessageContaining("key autumn");
        }
    }
}
