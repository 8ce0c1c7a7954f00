package dev.vacancy.rule;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.entry;

import dev.vacancy.Approval;
import dev.vacancy.BlockedException;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Emptying;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Limits;
import dev.vacancy.LockedException;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.List;
import java.util.function.IntFunction;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** An address belongs to the keepers who live there: when the last of them goes, nobody needs it any more. */
class OwnedParentsTest {
    private static final By ODILE = By.user("odile");
    private static final RuleBook RULES = RuleBook.bySchema().ownedParents("keeper.address_id");

    /** Una and Odile live at 10, Fred at 20 alone, Ida nowhere; at 30 nobody lives. */
    private static Database keepers(Engine engine) {
        return engine.database()
                .run(
                        "create table address (address_id integer primary key, street varchar(40) not null)",
                        "create table keeper (keeper_id integer primary key, name varchar(40) not null,"
                                + " address_id integer, left_at timestamp,"
                                + " foreign key (address_id) references address (address_id))",
                        "create table delivery (delivery_id integer primary key, address_id integer not null,"
                                + " foreign key (address_id) references address (address_id))",
                        "insert into address values (10, 'Mill Lane'), (20, 'Quay'), (30, 'Moor End')",
                        "insert into keeper values (1, 'Una', 10, null), (2, 'Odile', 10, null), (3, 'Fred', 20, null),"
                                + " (4, 'Ida', null, null)");
    }

    private static List<String> contents(Database database) {
        return List.of(
                database.rows("select * from keeper order by keeper_id").toString(),
                database.rows("select * from address order by address_id").toString());
    }

    @OnEveryEngine
    void theParentGoesWithItsLastChild(Engine engine) {
        Database database = keepers(engine);
        Vacancy vacancy = Vacancy.over(database.source(), RULES);

        Plan plan = vacancy.plan(Selection.of("keeper").key(3), ODILE);
        vacancy.run(Approval.of(plan));

        assertThat(plan.counts()).containsExactly(entry("keeper", 1L), entry("address", 1L));
        assertThat(plan.tree().lines())
                .anySatisfy(line -> assertThat(line).contains("─ address", "goes too: 20 'Quay'"));
        assertThat(database.rows("select address_id from address order by 1")).containsExactly("10", "30");
    }

    @OnEveryEngine
    void theParentStaysWhileAnotherChildRefersToIt(Engine engine) {
        Database database = keepers(engine);
        Vacancy vacancy = Vacancy.over(database.source(), RULES);

        Outcome first = vacancy.delete(Selection.of("keeper").key(1), ODILE);
        Outcome second = vacancy.delete(Selection.of("keeper").key(2), ODILE);

        assertThat(first.counts()).containsExactly(entry("keeper", 1L));
        assertThat(second.counts()).containsExactly(entry("keeper", 1L), entry("address", 1L));
    }

    @OnEveryEngine
    void childrenThatGoTogetherAreTheLast(Engine engine) {
        for (int held : new int[] {0, 10_000}) {
            Database database = keepers(engine);
            Vacancy vacancy = Vacancy.over(database.source(), RULES)
                    .withLimits(Limits.defaults().keysHeld(held));

            Outcome outcome = vacancy.delete(
                    Selection.of("keeper").where(Criteria.parse("name in ('Una', 'Odile', 'Ida')")), ODILE);

            assertThat(outcome.counts()).containsExactly(entry("keeper", 3L), entry("address", 1L));
            assertThat(database.rows("select address_id from address order by 1"))
                    .containsExactly("20", "30");
        }
    }

    /** So many that no database takes their keys as single values; of each pair of neighbours the second one is the last. */
    @OnEveryEngine
    void ofManyChildrenEachTakesItsParentAlong(Engine engine) {
        Database database = keepers(engine);
        database.run(manyRows("insert into address values ", 1_000, 3_000, n -> "(" + n + ", 'Row')"))
                .run(manyRows(
                        "insert into keeper values ",
                        1_000,
                        5_000,
                        n -> "(" + n + ", 'K', " + (1_000 + (n - 1_000) / 2) + ", null)"));
        Vacancy vacancy = Vacancy.over(database.source(), RULES);

        Outcome outcome =
                vacancy.delete(Selection.of("keeper").where(Criteria.parse("keeper_id between 1000 and 4998")), ODILE);

        assertThat(outcome.counts()).containsExactly(entry("keeper", 3_999L), entry("address", 1_999L));
        assertThat(database.count("address")).isEqualTo(3 + 1);
    }

    private static String manyRows(String insert, int first, int last, IntFunction<String> row) {
        return IntStream.range(first, last).mapToObj(row).collect(Collectors.joining(", ", insert, ""));
    }

    @OnEveryEngine
    void anotherLinkMayForbidIt(Engine engine) {
        Database database = keepers(engine).run("insert into delivery values (1, 20)");
        Vacancy vacancy = Vacancy.over(database.source(), RULES);

        assertThatThrownBy(() -> vacancy.delete(Selection.of("keeper").key(3), ODILE))
                .isInstanceOf(BlockedException.class)
                .hasMessageContaining("delivery");
        assertThat(database.count("keeper")).isEqualTo(4);
    }

    @OnEveryEngine
    void ofSelectedChildrenTheOnesWhoseParentIsNeededAreLeftOut(Engine engine) {
        Database database = keepers(engine).run("insert into delivery values (1, 10)");
        Vacancy vacancy = Vacancy.over(database.source(), RULES);

        Outcome outcome =
                vacancy.delete(Selection.of("keeper").keys(List.of(1, 2, 3)).skippingBlocked(), ODILE);

        assertThat(outcome.skipped())
                .extracting(left -> left.root().key().text())
                .containsExactly("1", "2");
        assertThat(database.rows("select keeper_id from keeper order by 1")).containsExactly("1", "2", "4");
    }

    @OnEveryEngine
    void aChildThatCameSinceKeepsTheParentAndMakesThePlanStale(Engine engine) {
        Database database = keepers(engine);
        Vacancy vacancy = Vacancy.over(database.source(), RULES);
        Plan plan = vacancy.plan(Selection.of("keeper").key(3), ODILE);
        database.run("update keeper set address_id = 20 where keeper_id = 4");

        assertThatThrownBy(() -> vacancy.run(Approval.of(plan))).isInstanceOf(StalePlanException.class);

        assertThat(database.count("address")).isEqualTo(3);
    }

    /** H2 and SQLite let nobody write who points to a record that a run holds, or nobody else at all. */
    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "MARIADB"})
    void whoeverIsJustPointingToTheParentIsWaitedFor(Engine engine) throws SQLException {
        Database database = keepers(engine);
        Vacancy vacancy = Vacancy.over(database.source(), RULES)
                .withLimits(Limits.defaults().lockWait(Duration.ofSeconds(1)));
        try (Connection other = database.connect();
                Statement statement = other.createStatement()) {
            other.setAutoCommit(false);
            statement.execute("insert into keeper values (5, 'Tam', 20, null)");

            assertThatThrownBy(() -> vacancy.delete(Selection.of("keeper").key(3), ODILE))
                    .isInstanceOf(LockedException.class);
            other.commit();
        }

        assertThat(vacancy.delete(Selection.of("keeper").key(3), ODILE).counts())
                .containsExactly(entry("keeper", 1L));
        assertThat(database.count("address")).isEqualTo(3);
    }

    @OnEveryEngine
    void whatWentTogetherComesBackTogether(Engine engine) {
        Database database = keepers(engine);
        RuleBook rules = RULES.trail(Trail.defaults());
        Ddl.of(database.source(), rules).apply();
        Vacancy vacancy = Vacancy.over(database.source(), rules);
        List<String> before = contents(database);

        Outcome outcome = vacancy.delete(Selection.of("keeper").keys(List.of(1, 2, 3)), ODILE);
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(outcome.runId(), ODILE)));

        assertThat(outcome.counts()).containsExactly(entry("keeper", 3L), entry("address", 2L));
        assertThat(contents(database)).isEqualTo(before);
    }

    /** The row of whoever has left is still there, and points to it. */
    @OnEveryEngine
    void aChildThatIsOnlyMarkedKeepsItsParent(Engine engine) {
        Database database = keepers(engine);
        Vacancy vacancy = Vacancy.over(
                database.source(),
                RULES.marker("keeper", Marker.timestamp("left_at")).soft("keeper"));

        Outcome outcome = vacancy.delete(Selection.of("keeper").key(3), ODILE);
        Outcome hard = vacancy.delete(Selection.of("keeper").key(3).hard(), ODILE);

        assertThat(outcome.counts()).containsExactly(entry("keeper", 1L));
        assertThat(hard.counts()).containsExactly(entry("keeper", 1L), entry("address", 1L));
    }

    @OnEveryEngine
    void whereBothAreMarkedTheActiveChildrenCount(Engine engine) {
        Database database = keepers(engine).run("alter table address add empty_since timestamp");
        Vacancy vacancy = Vacancy.over(
                database.source(),
                RULES.marker("keeper", Marker.timestamp("left_at"))
                        .soft("keeper")
                        .marker("address", Marker.timestamp("empty_since"))
                        .soft("address"));

        Outcome first = vacancy.delete(Selection.of("keeper").key(1), ODILE);
        Outcome second = vacancy.delete(Selection.of("keeper").key(2), ODILE);

        assertThat(first.counts()).containsExactly(entry("keeper", 1L));
        assertThat(second.marked()).containsExactlyInAnyOrder("keeper", "address");
        assertThat(database.rows("select address_id from address where empty_since is not null"))
                .containsExactly("10");
    }

    @OnEveryEngine
    void aTableThatOwnsParentsIsNotEmptied(Engine engine) {
        Vacancy vacancy = Vacancy.over(keepers(engine).source(), RULES);

        assertThatThrownBy(() -> vacancy.plan(Emptying.of("keeper"), ODILE))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("address.address_id");
    }

    @Test
    void whatCannotBeOwnedIsRefused() {
        Database database = keepers(Engine.H2)
                .run(
                        "create table note (text varchar(40), keeper_id integer references keeper (keeper_id))",
                        "alter table keeper add friend_id integer references keeper (keeper_id)",
                        "create table baker (keeper_id integer primary key references keeper (keeper_id))");

        assertThatThrownBy(() ->
                        Vacancy.over(database.source(), RuleBook.bySchema().ownedParents("note.keeper_id")))
                .hasMessageContaining("records of note have no key");
        assertThatThrownBy(() ->
                        Vacancy.over(database.source(), RuleBook.bySchema().ownedParents("keeper.friend_id")))
                .hasMessageContaining("of one table");
        assertThatThrownBy(() ->
                        Vacancy.over(database.source(), RuleBook.bySchema().ownedParents("keeper.mother_id")))
                .hasMessageContaining("There is no link 'keeper.mother_id'");
        assertThatThrownBy(() -> Vacancy.over(
                        database.source(),
                        RuleBook.bySchema()
                                .on("baker.keeper_id", Clause.partOf())
                                .ownedParents("baker.keeper_id")))
                .hasMessageContaining("they go together anyway");
    }
}
