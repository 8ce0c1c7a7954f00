package dev.vacancy.spring;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.util.Locale;
import org.junit.jupiter.api.Test;
import org.springframework.mock.web.MockHttpServletResponse;
import org.springframework.test.web.servlet.MockMvc;
import org.springframework.test.web.servlet.request.MockMvcRequestBuilders;
import org.springframework.test.web.servlet.setup.MockMvcBuilders;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** What Vacancy throws in a controller is answered as problem details, like those of its own resources. */
class VacancyProblemHandlerTest {
    private static final By UNA = By.user("una");

    private final Database database = Marina.on(Engine.H2);
    private final Vacancy vacancy = Vacancy.over(database.source(), Marina.RULES);
    private final Plan stale = vacancy.plan(Selection.of("pier").key(1), UNA);
    private final MockMvc mvc = MockMvcBuilders.standaloneSetup(new Piers(vacancy, stale))
            .setControllerAdvice(new VacancyProblemHandler())
            .build();

    @RestController
    static final class Piers {
        private final Vacancy vacancy;
        private final Plan stale;

        Piers(Vacancy vacancy, Plan stale) {
            this.vacancy = vacancy;
            this.stale = stale;
        }

        @DeleteMapping("/piers/{pier}")
        void delete(@PathVariable("pier") String pier) {
            vacancy.delete(Selection.of("pier").key(pier), UNA);
        }

        @DeleteMapping("/stale")
        void stale() {
            vacancy.run(Approval.of(stale));
        }

        @DeleteMapping("/quays/{quay}")
        void unknown(@PathVariable("quay") int quay) {
            vacancy.delete(Selection.of("quay").key(quay), UNA);
        }

        @DeleteMapping("/translated/{pier}")
        void translated(@PathVariable("pier") int pier) {
            try {
                vacancy.delete(Selection.of("pier").key(pier), UNA);
            } catch (RuntimeException failure) {
                throw new VacancyExceptionTranslator().translateExceptionIfPossible(failure);
            }
        }
    }

    private MockHttpServletResponse answer(String address, Locale locale) throws Exception {
        return mvc.perform(MockMvcRequestBuilders.delete(address).locale(locale))
                .andReturn()
                .getResponse();
    }

    @Test
    void childrenThatForbidItAreAConflict() throws Exception {
        MockHttpServletResponse answer = answer("/piers/2", Locale.ENGLISH);

        assertThat(answer.getStatus()).isEqualTo(409);
        assertThat(answer.getContentType()).isEqualTo("application/problem+json");
        assertThat(answer.getContentAsString())
                .contains(
                        "\"type\":\"urn:vacancy:problem:blocked\"",
                        "mooring 200",
                        "\"remedy\":",
                        "\"instance\":\"/piers/2\"");
        assertThat(database.count("pier")).isEqualTo(2);
    }

    @Test
    void aTranslatedExceptionIsAnsweredLikeTheOriginal() throws Exception {
        MockHttpServletResponse answer = answer("/translated/2", Locale.ENGLISH);

        assertThat(answer.getStatus()).isEqualTo(409);
        assertThat(answer.getContentAsString()).contains("urn:vacancy:problem:blocked");
    }

    @Test
    void aStalePlanIsAFailedPrecondition() throws Exception {
        database.run("insert into berth values (12, 1)");

        MockHttpServletResponse answer = answer("/stale", Locale.ENGLISH);

        assertThat(answer.getStatus()).isEqualTo(412);
        assertThat(answer.getContentAsString()).contains("\"differences\":[");
    }

    @Test
    void theTitleIsInTheLanguageOfTheRequest() throws Exception {
        String english = answer("/piers/2", Locale.ENGLISH).getContentAsString();
        String german = answer("/piers/2", Locale.GERMAN).getContentAsString();

        assertThat(title(english)).isNotEqualTo(title(german));
    }

    private static String title(String answer) {
        return answer.replaceAll(".*\"title\":\"([^\"]*)\".*", "$1");
    }

    @Test
    void aKeyOfAnotherTypeIsABadRequestAndAnUnknownTableTellsNoName() throws Exception {
        assertThat(answer("/piers/north", Locale.ENGLISH).getStatus()).isEqualTo(400);
        MockHttpServletResponse unknown = answer("/quays/1", Locale.ENGLISH);
        assertThat(unknown.getStatus()).isEqualTo(404);
        assertThat(unknown.getContentAsString()).doesNotContain("quay ", "berth", "pier");
    }
}
