package dev.vacancy.hibernate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Reporting;
import dev.vacancy.Selection;
import dev.vacancy.hibernate.Marina.Berth;
import dev.vacancy.hibernate.Marina.Bill;
import dev.vacancy.hibernate.Marina.Craft;
import dev.vacancy.hibernate.Marina.Pier;
import dev.vacancy.hibernate.Marina.Sailboat;
import dev.vacancy.hibernate.Marina.Skipper;
import dev.vacancy.hibernate.Marina.Tag;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Engine;
import jakarta.persistence.EntityManager;
import jakarta.persistence.PersistenceException;
import jakarta.persistence.RollbackException;
import java.util.List;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.UnaryOperator;
import org.hibernate.Session;
import org.hibernate.SessionFactory;
import org.hibernate.stat.Statistics;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** What an entity manager holds, and what the second-level cache holds for all of them, is what is in the database. */
class EntityCacheTest {
    private static final By UNA = By.user("una");

    private static RuleBook leavingBerths(RuleBook own) {
        return own.on("craft.berth_id", Clause.detach());
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whatIsNotWrittenYetIsInThePlan(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            marina.transaction((manager, vacancy) -> {
                Pier south = manager.find(Pier.class, 2);
                manager.persist(new Berth(21, south));

                Plan plan = vacancy.plan(Selection.of("pier").key(2), UNA);

                assertThat(plan.counts()).containsEntry("berth", 2L);
                assertThat(vacancy.run(Approval.of(plan)).counts()).containsEntry("berth", 2L);
            });
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whatIsGoneIsNotHeldAnyMore(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            marina.transaction((manager, vacancy) -> {
                Pier south = manager.find(Pier.class, 2);
                Berth berth = manager.find(Berth.class, 20);
                Berth other = manager.getReference(Berth.class, 10);

                vacancy.delete(Selection.of("pier").key(2), UNA);

                assertThat(manager.contains(south)).isFalse();
                assertThat(manager.contains(berth)).isFalse();
                assertThat(manager.contains(other)).isTrue();
                assertThat(manager.find(Berth.class, 20)).isNull();
            });
            assertThat(marina.database.rows("select id from berth order by id")).containsExactly("10", "11");
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void aLoadedCollectionLosesWhatIsGoneAndIsNotWritten(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            marina.transaction(EntityCacheTest::leavingBerths, (manager, vacancy) -> {
                Pier north = manager.find(Pier.class, 1);
                assertThat(north.berths).hasSize(2);

                vacancy.delete(Selection.of("berth").key(11), UNA);

                assertThat(north.berths).extracting(berth -> berth.id).containsExactly(10);
                north.name = "North Pier";
                manager.persist(new Berth(12, north));
            });
            assertThat(marina.database.rows("select name from pier where id = 1"))
                    .containsExactly("North Pier");
            assertThat(marina.database.rows("select id from berth order by id")).containsExactly("10", "12", "20");
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whatIsChangedIsReadAgainAndStaysInHand(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            marina.transaction(EntityCacheTest::leavingBerths, (manager, vacancy) -> {
                Craft heron = manager.find(Craft.class, 100L);
                heron.name = "Grey Heron";
                int before = heron.version;

                vacancy.delete(Selection.of("berth").key(10), UNA);

                assertThat(heron.berth).isNull();
                assertThat(heron.version).isEqualTo(before + 2);
                assertThat(heron.name).isEqualTo("Grey Heron");
                heron.name = "Heron II";
            });
            assertThat(marina.database.rows("select name from craft where id = 100"))
                    .containsExactly("Heron II");
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whoeverHoldsAnOlderVersionElsewhereIsRefused(Engine engine) {
        try (Marina marina = Marina.on(engine).filled();
                EntityManager elsewhere = marina.entities.createEntityManager()) {
            elsewhere.getTransaction().begin();
            Craft heron = elsewhere.find(Craft.class, 100L);
            elsewhere.getTransaction().commit();
            marina.vacancy(EntityCacheTest::leavingBerths)
                    .delete(Selection.of("berth").key(10), UNA);

            elsewhere.getTransaction().begin();
            heron.name = "Another";

            assertThatThrownBy(() -> elsewhere.getTransaction().commit()).isInstanceOf(RollbackException.class);
        }
    }

    @Test
    void aNewParentsCollectionHasWhatIsHandedOver() {
        try (Marina marina = Marina.on(Engine.H2).filled()) {
            marina.transaction(own -> own.on("craft.berth_id", Clause.reassign(20)), (manager, vacancy) -> {
                Berth free = manager.find(Berth.class, 20);
                assertThat(free.craft).isEmpty();

                vacancy.delete(Selection.of("berth").key(10), UNA);

                assertThat(free.craft).extracting(craft -> craft.id).containsExactly(100L);
            });
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whatIsTakenOutOfACollectionIsNoChangeOfTheApplications(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            Statistics statistics = marina.entities.unwrap(SessionFactory.class).getStatistics();
            marina.transaction((manager, vacancy) -> {
                Skipper ida = manager.find(Skipper.class, 1);
                assertThat(ida.bills).hasSize(1);
                statistics.clear();

                vacancy.delete(Selection.of("bill").key(500), UNA);

                assertThat(ida.bills).isEmpty();
            });
            assertThat(statistics.getCollectionUpdateCount()).isZero();
            assertThat(statistics.getEntityDeleteCount()).isZero();
        }
    }

    /** Its place in the list is a column, so that what is left is read again. */
    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void aListWithPlacesHasAGapWhereOneIsGone(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            marina.transaction(own -> own.on("pier_lamp.lamps_id", Clause.cascade()), (manager, vacancy) -> {
                Pier north = manager.find(Pier.class, 1);
                UUID first = north.lamps.get(0).id;
                UUID second = north.lamps.get(1).id;

                vacancy.delete(Selection.of("lamp").key(first), UNA);

                assertThat(north.lamps)
                        .extracting(lamp -> lamp == null ? null : lamp.id)
                        .containsExactly(null, second);
            });
            assertThat(marina.database.rows("select place from pier_lamp")).containsExactly("1");
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void subclassesValuesAndJoinRowsAreForgotten(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            marina.transaction((manager, vacancy) -> {
                Tag wooden = manager.find(Tag.class, 1);
                Sailboat heron = manager.find(Sailboat.class, 100L);
                Set<Craft> tagged = wooden.craft;
                assertThat(tagged).hasSize(2);
                assertThat(heron.equipment).hasSize(2);

                vacancy.delete(Selection.of("sailboat").key(100), UNA);

                assertThat(manager.contains(heron)).isFalse();
                assertThat(wooden.craft).extracting(craft -> craft.name).containsExactly("Otter");
                assertThat(manager.find(Craft.class, 100L)).isNull();
                assertThat(manager.createQuery("select count(s) from Survey s", Long.class)
                                .getSingleResult())
                        .isZero();
            });
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void theSecondLevelCacheLosesExactlyWhatWent(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            org.hibernate.Cache cache =
                    marina.entities.unwrap(SessionFactory.class).getCache();
            marina.transaction((manager, vacancy) -> List.of(10, 11, 20)
                    .forEach(berth ->
                            assertThat(manager.find(Berth.class, berth)).isNotNull()));
            assertThat(cache.containsEntity(Berth.class, 20)).isTrue();

            marina.transaction(
                    (manager, vacancy) -> vacancy.delete(Selection.of("pier").key(2), UNA));

            assertThat(cache.containsEntity(Berth.class, 20)).isFalse();
            assertThat(cache.containsEntity(Berth.class, 10)).isTrue();
            marina.transaction((manager, vacancy) ->
                    assertThat(manager.find(Berth.class, 20)).isNull());
        }
    }

    @Test
    void whatAnotherTransactionReadMeanwhileIsEvictedAfterTheCommit() {
        try (Marina marina = Marina.on(Engine.H2).filled()) {
            marina.transaction((manager, vacancy) -> {
                vacancy.delete(Selection.of("pier").key(2), UNA);
                Thread reader = new Thread(() -> marina.transaction((other, ignored) -> other.find(Berth.class, 20)));
                reader.start();
                join(reader);
            });

            marina.transaction((manager, vacancy) ->
                    assertThat(manager.find(Berth.class, 20)).isNull());
        }
    }

    private static void join(Thread thread) {
        try {
            thread.join();
        } catch (InterruptedException interrupted) {
            throw new IllegalStateException(interrupted);
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void resultsOfQueriesAreForgottenByTheirTables(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            assertThat(berths(marina)).isEqualTo(3);
            assertThat(berths(marina)).isEqualTo(3);

            marina.transaction(
                    (manager, vacancy) -> vacancy.delete(Selection.of("pier").key(2), UNA));

            assertThat(berths(marina)).isEqualTo(2);
        }
    }

    private static int berths(Marina marina) {
        AtomicReference<Integer> counted = new AtomicReference<>();
        marina.entities.runInTransaction(manager -> counted.set(manager.unwrap(Session.class)
                .createQuery("from Berth", Berth.class)
                .setCacheable(true)
                .getResultList()
                .size()));
        return counted.get();
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whatIsRestoredIsThereInTheSameSession(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            UnaryOperator<RuleBook> trail = own -> own.trail(Trail.defaults());
            marina.vacancy(trail);
            marina.transaction(trail, (manager, vacancy) -> {
                Tag wooden = manager.find(Tag.class, 1);
                UUID run = vacancy.delete(Selection.of("craft").key(100), UNA).runId();
                assertThat(wooden.craft).hasSize(1);

                vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, UNA)));

                assertThat(wooden.craft).hasSize(2);
                assertThat(manager.find(Sailboat.class, 100L).equipment).hasSize(2);
            });
        }
    }

    @Test
    void whatIsRolledBackIsThereForTheNextSession() {
        try (Marina marina = Marina.on(Engine.H2).filled()) {
            assertThatThrownBy(() -> marina.transaction((manager, vacancy) -> {
                        manager.find(Berth.class, 20);
                        vacancy.delete(Selection.of("pier").key(2), UNA);
                        throw new IllegalStateException("thought better of it");
                    }))
                    .isInstanceOf(IllegalStateException.class);

            marina.transaction((manager, vacancy) ->
                    assertThat(manager.find(Pier.class, 2).berths).hasSize(1));
        }
    }

    @Test
    void aFlushThatFailsIsTheMappersFailureAndNothingIsDeleted() {
        try (Marina marina = Marina.on(Engine.H2).filled()) {
            assertThatThrownBy(() -> marina.transaction((manager, vacancy) -> {
                        manager.persist(new Bill(500));
                        vacancy.delete(Selection.of("pier").key(2), UNA);
                    }))
                    .isInstanceOf(PersistenceException.class);

            assertThat(marina.database.count("pier")).isEqualTo(2);
        }
    }

    @Test
    void onlyTheKeysThatWereAskedForAreTold() {
        try (Marina marina = Marina.on(Engine.H2).filled()) {
            marina.transaction((manager, vacancy) -> {
                manager.find(Pier.class, 2);

                Outcome outcome = vacancy.delete(
                        Selection.of("pier").key(2), UNA, Reporting.none().keysOf("BERTH"));

                assertThat(outcome.keys().keySet()).containsExactly("berth");
                assertThat(outcome.changedKeys().keySet()).containsExactly("berth");
            });
        }
    }

    @Test
    void entitiesOfASessionWithoutATransactionAreForgottenToo() {
        try (Marina marina = Marina.on(Engine.H2).filled();
                EntityManager open = marina.entities.createEntityManager()) {
            Skipper ida = open.find(Skipper.class, 1);
            Berth berth = open.find(Berth.class, 20);

            marina.joined(open, UnaryOperator.identity())
                    .delete(Selection.of("pier").key(2), UNA);

            assertThat(open.contains(berth)).isFalse();
            assertThat(open.contains(ida)).isTrue();
        }
    }
}
