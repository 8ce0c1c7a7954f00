package dev.vacancy.hibernate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.hibernate.Marina.Berth;
import dev.vacancy.hibernate.Marina.Club;
import dev.vacancy.hibernate.Marina.Craft;
import dev.vacancy.hibernate.Marina.Lamp;
import dev.vacancy.hibernate.Marina.Pier;
import dev.vacancy.hibernate.Marina.Sailboat;
import dev.vacancy.hibernate.Marina.Survey;
import dev.vacancy.hibernate.Marina.SurveyId;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Engine;
import jakarta.persistence.metamodel.SingularAttribute;
import java.time.LocalDate;
import java.util.List;
import java.util.UUID;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Who has entities deletes them by their ids and attributes, and is told ids. */
class DeletionsTest {
    private static final By UNA = By.user("una");
    private static final SurveyId FIRST_OF_MAY = new SurveyId(100, LocalDate.of(2026, 5, 1));

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void anEntityGoesByItsIdAndItsIdsAreTold(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            Deletions<Craft, Long> craft =
                    marina.mapping.deletions(marina.vacancy(UnaryOperator.identity()), Craft.class);

            EntityOutcome<Long> outcome = craft.delete(100L, UNA);

            assertThat(outcome.ids()).containsExactly(100L);
            assertThat(outcome.ids(Sailboat.class)).isEqualTo(List.of(100L));
            assertThat(outcome.ids(Survey.class)).isEqualTo(List.of(FIRST_OF_MAY));
            assertThat(outcome.ids(Pier.class)).isEmpty();
            assertThat(outcome.outcome().counts()).containsEntry("survey", 1L);
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void idsOfEveryShapeAreTaken(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            Vacancy vacancy = marina.vacancy(own -> own.on("pier_lamp.lamps_id", Clause.cascade()));
            Deletions<Survey, SurveyId> surveys = marina.mapping.deletions(vacancy, Survey.class);
            Deletions<Lamp, UUID> lamps = marina.mapping.deletions(vacancy, Lamp.class);
            marina.transaction((manager, joined) -> {
                Lamp lamp = manager.find(Pier.class, 1).lamps.get(0);
                assertThat(lamps.plan(lamp.id, UNA).selected()).isEqualTo(1);
                assertThat(lamps.plan(lamps.selectEntity(lamp), UNA).selected()).isEqualTo(1);
            });

            assertThat(surveys.delete(FIRST_OF_MAY, UNA).ids()).containsExactly(FIRST_OF_MAY);
            assertThat(surveys.delete(surveys.selectIds(List.of(FIRST_OF_MAY)), UNA)
                            .ids())
                    .isEmpty();
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void attributesAreTheirColumns(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            Vacancy vacancy = marina.vacancy(UnaryOperator.identity());
            Deletions<Sailboat, Long> sailboats = marina.mapping.deletions(vacancy, Sailboat.class);
            Deletions<Survey, SurveyId> surveys = marina.mapping.deletions(vacancy, Survey.class);
            SingularAttribute<? super Sailboat, ?> attribute =
                    marina.entities.getMetamodel().entity(Sailboat.class).getSingularAttribute("mastHeight");
            @SuppressWarnings("unchecked") // as the static metamodel has it
            SingularAttribute<? super Sailboat, Double> mast = (SingularAttribute<? super Sailboat, Double>) attribute;

            Criteria tall = sailboats.attribute(mast).greaterThan(10.0);
            Criteria named = sailboats.attribute("name").like("Her%");

            assertThat(sailboats.plan(sailboats.select(tall.and(named)), UNA).selected())
                    .isEqualTo(1);
            assertThat(surveys.plan(
                                    surveys.select(
                                            surveys.attribute("id.surveyedOn").equalTo("2026-05-01")),
                                    UNA)
                            .selected())
                    .isEqualTo(1);
            assertThatThrownBy(() -> sailboats.attribute("sails"))
                    .isInstanceOf(InvalidRequestException.class)
                    .hasMessageContaining("has no attribute 'sails'");
        }
    }

    @Test
    void somebodyIsAskedAndARunIsUndone() {
        try (Marina marina = Marina.on(Engine.H2).filled()) {
            Vacancy vacancy = marina.vacancy(own -> own.trail(Trail.defaults()));
            Deletions<Pier, Integer> piers = marina.mapping.deletions(vacancy, Pier.class);

            EntityOutcome<Integer> outcome =
                    piers.run(piers.ask(2, UNA).answer("yes").orElseThrow());

            assertThat(outcome.ids(Berth.class)).isEqualTo(List.of(20));
            assertThat(piers.restore(outcome.outcome().runId(), UNA).counts()).containsEntry("berth", 1L);
            assertThat(marina.database.count("berth")).isEqualTo(3);
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void anEntityComesBackByItsIdOrByItself(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            Vacancy vacancy = marina.vacancy(own -> own.trail(Trail.defaults()));
            Deletions<Pier, Integer> piers = marina.mapping.deletions(vacancy, Pier.class);
            Deletions<Club, Integer> clubs = marina.mapping.deletions(vacancy, Club.class);
            Deletions<Survey, SurveyId> surveys = marina.mapping.deletions(vacancy, Survey.class);

            piers.delete(2, UNA);
            assertThat(piers.restoreId(2, UNA).counts())
                    .containsEntry("pier", 1L)
                    .containsEntry("berth", 1L);
            assertThat(marina.database.count("berth")).isEqualTo(3);

            marina.transaction(own -> own.trail(Trail.defaults()), (manager, joined) -> {
                Deletions<Pier, Integer> here = marina.mapping.deletions(joined, Pier.class);
                Pier held = manager.find(Pier.class, 2);
                here.delete(here.selectEntity(held), UNA);
                assertThat(here.restoreEntity(held, UNA).counts()).containsEntry("pier", 1L);
                assertThat(manager.find(Pier.class, 2)).isNotNull();
            });
            clubs.delete(1, UNA);
            assertThat(clubs.restoreId(1, UNA).counts()).containsEntry("club", 1L);
            surveys.delete(FIRST_OF_MAY, UNA);
            assertThat(surveys.restoreId(FIRST_OF_MAY, UNA).counts()).containsEntry("survey", 1L);
            assertThatThrownBy(() -> piers.restoreId(99, UNA))
                    .isInstanceOf(InvalidRequestException.class)
                    .hasMessageContaining("Nothing is recorded of a deletion of");
        }
    }

    @Test
    void whatIsMarkedIsToldAsGone() {
        try (Marina marina = Marina.on(Engine.H2).filled()) {
            Deletions<Club, Integer> clubs =
                    marina.mapping.deletions(marina.vacancy(UnaryOperator.identity()), Club.class);

            assertThat(clubs.delete(1, UNA).ids()).containsExactly(1);
        }
    }

    @Test
    @SuppressWarnings({"unchecked", "rawtypes"}) // as a caller may who doesn't say the types
    void badInputIsToldInWordsOfEntities() {
        try (Marina marina = Marina.on(Engine.H2).filled()) {
            Vacancy vacancy = marina.vacancy(UnaryOperator.identity());
            Deletions craft = marina.mapping.deletions(vacancy, Craft.class);
            Deletions<Survey, SurveyId> surveys = marina.mapping.deletions(vacancy, Survey.class);

            assertThatThrownBy(() -> craft.selectId("100"))
                    .isInstanceOf(InvalidRequestException.class)
                    .hasMessageContaining("The id of dev.vacancy.hibernate.Marina$Craft is Long, not String");
            assertThatThrownBy(() -> craft.selectId(null)).hasMessage("id");
            assertThatThrownBy(() -> craft.plan(craft.selectIds(List.of()), UNA))
                    .isInstanceOf(InvalidRequestException.class);
            assertThatThrownBy(() -> surveys.selectEntity(new Survey()))
                    .isInstanceOf(InvalidRequestException.class)
                    .hasMessageContaining("no id yet");
            assertThatThrownBy(() -> marina.mapping.deletions(vacancy, String.class))
                    .hasMessageContaining("java.lang.String isn't an entity");
            assertThatThrownBy(() -> craft.delete(100L, null)).hasMessageContaining("somebody who asks");
        }
    }

    @Test
    void aRunIsPartOfTheTransactionAndWhatCannotBeIsRefused() {
        try (Marina marina = Marina.on(Engine.H2).filled()) {
            assertThatThrownBy(() -> marina.transaction((manager, vacancy) -> {
                        Deletions<Pier, Integer> piers = marina.mapping.deletions(vacancy, Pier.class);
                        assertThat(piers.delete(2, UNA).ids()).containsExactly(2);
                        assertThat(manager.find(Pier.class, 2)).isNull();
                        vacancy.bulk();
                    }))
                    .isInstanceOf(InvalidRequestException.class)
                    .hasMessageContaining("can't be part of the application's transaction");

            assertThat(marina.database.count("pier")).isEqualTo(2);
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void anEntityWithAnEmbeddedIdIsForgottenByItsOwnKey(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            marina.transaction((manager, vacancy) -> {
                Craft otter = manager.find(Craft.class, 101L);
                Survey second = new Survey(otter, LocalDate.of(2026, 6, 1));
                manager.persist(second);
                Survey first = manager.find(Survey.class, FIRST_OF_MAY);

                vacancy.delete(
                        Selection.of("survey")
                                .where(marina.mapping
                                        .deletions(vacancy, Survey.class)
                                        .attribute("id.craftId")
                                        .equalTo(100)),
                        UNA);

                assertThat(manager.contains(first)).isFalse();
                assertThat(manager.contains(second)).isTrue();
            });
        }
    }
}
