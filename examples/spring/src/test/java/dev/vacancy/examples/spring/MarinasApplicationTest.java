package dev.vacancy.examples.spring;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.examples.spring.fleet.Craft;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.schedule.ScheduledRuns;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.net.http.HttpResponse;
import java.util.Optional;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

class MarinasApplicationTest {
    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void aCraftGoesDirectlyOrAsAnObjectAndComesBack(Engine engine) throws Exception {
        Database database = engine.database();
        try (RunningMarinas marinas = RunningMarinas.on(database)) {
            RunningMarinas.Visitor una = marinas.visitor("una");

            String plan = una.get("/craft/1/deletion").body();
            HttpResponse<String> direct = una.change("DELETE", "/craft/1");
            long stays = database.count("stay");
            HttpResponse<String> back = una.change("POST", "/craft/1/return");
            HttpResponse<String> asObject = una.change("POST", "/craft/1/scrapping");

            assertThat(plan).contains("\"counts\":{\"craft\":1,\"craft_equipment\":2,\"sailboat\":1,\"stay\":2}");
            assertThat(direct.body()).isEqualTo("[1]");
            assertThat(stays).isEqualTo(3);
            assertThat(back.body()).contains("\"sailboat\":1", "\"craft_equipment\":2");
            assertThat(asObject.body()).isEqualTo("[1]");
            assertThat(database.rows("select id from craft order by 1")).containsExactly("2", "3", "4");
            assertThat(marinas.bean(Vacancy.class).history().runs(HistoryQuery.all()))
                    .extracting(run -> run.by().reason())
                    .contains(Optional.of("scrapped"));
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void anOwnerGoesWithTheLastCraftAndTheAddressToo(Engine engine) throws Exception {
        Database database = engine.database();
        try (RunningMarinas marinas = RunningMarinas.on(database)) {
            RunningMarinas.Visitor isla = marinas.visitor("isla");

            isla.change("DELETE", "/craft/4");
            long afterTheFirst = database.count("owner");
            isla.change("DELETE", "/craft/3");

            assertThat(afterTheFirst).isEqualTo(2);
            assertThat(database.rows("select id from owner")).containsExactly("1");
            assertThat(database.rows("select id from address")).containsExactly("1");
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void whatIsAnotherHarboursNeverGoes(Engine engine) throws Exception {
        Database database = engine.database();
        try (RunningMarinas marinas = RunningMarinas.on(database)) {
            RunningMarinas.Visitor una = marinas.visitor("una");
            RunningMarinas.Visitor tam = marinas.visitor("tam");

            assertThat(una.get("/craft/4/deletion").statusCode()).isEqualTo(403);
            assertThat(una.change("DELETE", "/craft/4").statusCode()).isEqualTo(403);
            assertThat(una.change("POST", "/craft/4/scrapping").statusCode()).isEqualTo(403);
            assertThat(una.get("/deletions/craft/4/deletion").statusCode()).isEqualTo(403);
            assertThat(una.get("/deletions/pier/3/deletion").statusCode()).isEqualTo(403);
            assertThat(una.get("/deletions/harbour/1/deletion").statusCode()).isEqualTo(403);
            assertThat(tam.change("DELETE", "/craft/4").statusCode()).isEqualTo(200);
            assertThat(una.change("POST", "/craft/4/return").statusCode()).isEqualTo(404);
            assertThat(database.count("craft")).isEqualTo(3);
            assertThat(una.page()).contains("Heron").doesNotContain("Gannet");
            assertThat(tam.page()).contains("Gannet").doesNotContain("Heron");
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void whatForbidsADeletionIsSaid(Engine engine) throws Exception {
        Database database = engine.database();
        try (RunningMarinas marinas = RunningMarinas.on(database)) {
            RunningMarinas.Visitor una = marinas.visitor("una");

            HttpResponse<String> unpaid = una.change("DELETE", "/craft/2");
            HttpResponse<String> unknown = una.change("POST", "/craft/99/return");

            assertThat(unpaid.statusCode()).isEqualTo(409);
            assertThat(unpaid.headers().firstValue("Content-Type")).contains("application/problem+json");
            assertThat(unpaid.body()).contains("its stay isn't paid");
            assertThat(unknown.statusCode()).isEqualTo(404);
            assertThat(una.get("/deletions/pier/2/deletion").body()).contains("a craft lies there");
            assertThat(database.count("craft")).isEqualTo(4);
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void aHarbourThatIsClosedStaysOnRecordWithItsPiers(Engine engine) throws Exception {
        Database database = engine.database();
        try (RunningMarinas marinas = RunningMarinas.on(database)) {
            HarbourRepository harbours = marinas.bean(HarbourRepository.class);

            assertThat(harbours.plan(1, By.user("isla")).isBlocked()).isTrue();
            assertThat(harbours.delete(3, By.user("isla")).ids()).containsExactly(3);

            assertThat(harbours.findAllByOrderByName()).extracting("name").containsExactly("Skerrow", "Tarnholm");
            assertThat(database.rows("select name from harbour where closed_at is not null"))
                    .containsExactly("Drumlish");
            assertThat(database.count("pier")).isEqualTo(4);
            assertThat(harbours.restoreId(3, By.user("isla")).counts()).containsEntry("harbour", 1L);
            assertThat(harbours.findAllByOrderByName()).hasSize(3);
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void eachNightGoesWhatWasPaidLongAgo(Engine engine) {
        Database database = engine.database();
        try (RunningMarinas marinas = RunningMarinas.on(database)) {
            assertThat(marinas.bean(ScheduledRuns.class).list()).singleElement().satisfies(nightly -> {
                Selection old = nightly.deletion().selection();
                marinas.bean(Vacancy.class).delete(old, nightly.deletion().by());
            });
            assertThat(database.rows("select craft_id from stay order by 1")).containsExactly("1", "1", "2", "3");
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void criteriaAreOnAttributes(Engine engine) {
        Database database = engine.database();
        try (RunningMarinas marinas = RunningMarinas.on(database)) {
            CraftRepository craft = marinas.bean(CraftRepository.class);
            Craft heron = craft.findById(1).orElseThrow();
            Criteria hers = craft.attribute("owner").equalTo(heron.getOwner());

            assertThat(craft.plan(craft.select(hers.and(craft.attribute("name").like("He%"))), By.user("una"))
                            .selected())
                    .isEqualTo(1);
        }
    }
}
