package dev.vacancy.hibernate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.BlockedException;
import dev.vacancy.By;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.lang.reflect.Proxy;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.function.UnaryOperator;
import org.hibernate.Version;
import org.hibernate.boot.Metadata;
import org.hibernate.engine.spi.SessionFactoryImplementor;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** What a mapping says of deletion becomes rules, each with where it says so. The mapper has no dialect for SQLite. */
class EntityMappingTest {
    private static final By UNA = By.user("una");

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void everyRuleOfTheMappingIsToldWithItsOrigin(Engine engine) {
        try (Marina marina = Marina.on(engine)) {
            Vacancy vacancy = marina.vacancy(UnaryOperator.identity());

            assertThat(marina.mapping.derived(vacancy.catalog()))
                    .extracting(DerivedRule::toString)
                    .containsExactly(
                            "berth.pier_id: cascade, by Pier.berths (orphanRemoval)",
                            "bill.skipper_id: detach, by Skipper.bills (a collection that owns the foreign key)",
                            "bill.version: counts changes, by Bill.version (version)",
                            "club: soft, marked by in_being, by Club (soft delete)",
                            "craft.design_id: owns its parent, by Craft.design (cascade REMOVE)",
                            "craft.skipper_id: block, by Craft.skipper (a reference)",
                            "craft.version: counts changes, by Craft.version (version)",
                            "craft_equipment.craft_id: cascade, by Craft.equipment (a collection of values)",
                            "craft_tag.craft_id: cascade, by Craft.tags (a join table)",
                            "launch.id: part of, by Launch (a subclass of Craft)",
                            "notice: soft, marked by taken_down, by Notice (soft delete)",
                            "pier_lamp.lamps_id: owns its parent, by Pier.lamps (cascade REMOVE)",
                            "pier_lamp.pier_id: cascade, by Pier.lamps (a join table)",
                            "pier_note.pier_id: part of, by Pier (a secondary table)",
                            "policy.craft_id: cascade, by Craft.policy (cascade REMOVE)",
                            "sailboat.id: part of, by Sailboat (a subclass of Craft)",
                            "survey.craft_id: cascade, by Craft.surveys (cascade REMOVE)");
            assertThat(marina.mapping.check(vacancy.catalog())).isEmpty();
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whatBelongsToAnEntityGoesWithIt(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            Vacancy vacancy = marina.vacancy(UnaryOperator.identity());

            Plan plan = vacancy.plan(Selection.of("sailboat").key(100), UNA);

            assertThat(plan.counts())
                    .isEqualTo(Map.of(
                            "sailboat",
                            1L,
                            "craft",
                            1L,
                            "craft_equipment",
                            2L,
                            "craft_tag",
                            1L,
                            "policy",
                            1L,
                            "survey",
                            1L));
            assertThat(vacancy.delete(Selection.of("craft").key(100), UNA).total())
                    .isEqualTo(7);
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whatAnEntityCascadesToGoesWithTheLastThatRefersToIt(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            Vacancy vacancy = marina.vacancy(own -> own.on("craft.berth_id", Clause.detach()));

            assertThat(vacancy.delete(Selection.of("craft").key(100), UNA).counts())
                    .doesNotContainKey("design");
            assertThat(vacancy.delete(Selection.of("craft").key(101), UNA).counts())
                    .containsEntry("design", 1L);
            assertThat(vacancy.delete(Selection.of("pier").key(1), UNA).counts())
                    .containsEntry("pier_lamp", 2L)
                    .containsEntry("lamp", 2L);
        }
    }

    @Test
    void whyItGoesIsToldAsTheMappingSaysIt() {
        try (Marina marina = Marina.on(Engine.H2).filled()) {
            Vacancy vacancy = marina.vacancy(UnaryOperator.identity());

            Plan plan = vacancy.plan(Selection.of("skipper").key(1), UNA);

            assertThat(plan.blockers().get(0).reason()).isEqualTo("Craft.skipper (a reference) says so");
            assertThatThrownBy(() -> vacancy.delete(Selection.of("skipper").key(1), UNA))
                    .isInstanceOf(BlockedException.class)
                    .hasMessageContaining("2 records of craft");
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whatACollectionOwnsIsDetachedAndCounted(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            Vacancy vacancy = marina.vacancy(own -> own.on("craft.skipper_id", Clause.detach()));

            vacancy.delete(Selection.of("skipper").key(1), UNA);

            assertThat(marina.database.rows("select skipper_id, version from bill"))
                    .containsExactly("null|1");
            assertThat(marina.database.count("craft")).isEqualTo(2);
        }
    }

    @Test
    void whatTheApplicationSaysComesFirst() {
        try (Marina marina = Marina.on(Engine.H2).filled()) {
            Vacancy vacancy = marina.vacancy(own -> own.on("Berth.Pier_Id", Clause.block("boats lie there")));

            assertThat(vacancy.plan(Selection.of("pier").key(2), UNA).blockers())
                    .extracting(blocker -> blocker.reason())
                    .containsExactly("boats lie there");
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whatIsMarkedIsGoneForTheMapperUntilItIsRestored(Engine engine) {
        try (Marina marina = Marina.on(engine).filled()) {
            Vacancy vacancy = marina.vacancy(own -> own.trail(Trail.defaults()));

            List<UUID> runs = List.of(
                    vacancy.delete(Selection.of("notice").key(1), UNA).runId(),
                    vacancy.delete(Selection.of("club").key(1), UNA).runId());

            assertThat(marina.database.rows("select in_being from club")).containsExactly("N");
            assertThat(marina.database.count("notice where taken_down is not null"))
                    .isEqualTo(1);
            marina.transaction((manager, joined) -> {
                assertThat(manager.find(Marina.Notice.class, 1)).isNull();
                assertThat(manager.find(Marina.Club.class, 1)).isNull();
            });
            runs.forEach(run ->
                    vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, UNA))));
            marina.transaction((manager, joined) -> {
                assertThat(manager.find(Marina.Notice.class, 1).title).isEqualTo("Dredging");
                assertThat(manager.find(Marina.Club.class, 1).name).isEqualTo("Saltmere Sailing");
            });
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whereMappingAndSchemaDisagreeIsTold(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table pier (id integer primary key, name varchar(255))",
                        "create table pier_note (pier_id integer primary key, note varchar(255))",
                        "create table berth (id integer primary key, pier_id integer not null,"
                                + " foreign key (pier_id) references pier (id))",
                        "create table craft (id bigint primary key, version integer not null, name varchar(255),"
                                + " berth_id integer not null, skipper_id integer,"
                                + " foreign key (berth_id) references berth (id))",
                        "create table skipper (id integer primary key, name varchar(255))",
                        "create table bill (id integer primary key, version bigint not null, skipper_id integer not null,"
                                + " foreign key (skipper_id) references skipper (id))");

        try (Marina marina = Marina.on(database, "none")) {
            List<Finding> findings = Vacancy.check(database.source(), marina.mapping.rules());

            assertThat(findings)
                    .filteredOn(finding -> finding.kind() == Finding.Kind.MAPPING)
                    .extracting(finding -> finding.where() + ": " + finding.why())
                    .contains(
                            "Craft.berth: it is optional by the mapping, but craft.berth_id may not be null",
                            "Pier: the mapping takes the foreign key pier_note.pier_id for enforced, and the schema doesn't"
                                    + " declare it",
                            "Skipper.bills: the mapper empties bill.skipper_id when the parent goes, but it may not be null",
                            "Craft.tags: it is mapped to the table craft_tag, which isn't there")
                    .doesNotHaveDuplicates();
            assertThat(Vacancy.over(database.source(), marina.mapping.rules())
                            .catalog()
                            .link("pier_note.pier_id"))
                    .isNotNull();
        }
    }

    @Test
    void aMappingThatNobodyTookDownIsRefused() {
        try (Marina marina = Marina.on(Engine.H2)) {
            SessionFactoryImplementor factory = marina.entities.unwrap(SessionFactoryImplementor.class);
            new MappingIntegrator().disintegrate(factory, null);

            assertThat(marina.mapping).hasToString("the mapping of 14 entities");
            assertThatThrownBy(() -> EntityMapping.of(marina.entities))
                    .isInstanceOf(IllegalStateException.class)
                    .hasMessageContaining("Hibernate started without vacancy-hibernate");
            assertThatThrownBy(() -> EntityMapping.of(null)).hasMessage("factory");
        }
    }

    @Test
    void aMappingThatCannotBeReadLetsTheApplicationStart() {
        try (Marina marina = Marina.on(Engine.H2)) {
            SessionFactoryImplementor factory = marina.entities.unwrap(SessionFactoryImplementor.class);

            new MappingIntegrator().integrate(null, null, factory);

            assertThatThrownBy(() -> EntityMapping.of(marina.entities))
                    .isInstanceOf(IllegalStateException.class)
                    .hasMessage("What the mapping says of deletion can't be read.")
                    .hasCauseInstanceOf(NullPointerException.class);
        }
    }

    @Test
    void anotherHibernateIsSaid() {
        Metadata strange = (Metadata) Proxy.newProxyInstance(
                getClass().getClassLoader(), new Class<?>[] {Metadata.class}, (proxy, method, arguments) -> {
                    throw new NoSuchMethodError("as in another release");
                });
        try (Marina marina = Marina.on(Engine.H2)) {
            new MappingIntegrator().integrate(strange, null, marina.entities.unwrap(SessionFactoryImplementor.class));

            assertThatThrownBy(() -> EntityMapping.of(marina.entities))
                    .isInstanceOf(IllegalStateException.class)
                    .hasMessageContaining("It takes Hibernate 7, and this is " + Version.getVersionString());
        }
    }
}
