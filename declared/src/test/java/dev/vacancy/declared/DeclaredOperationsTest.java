package dev.vacancy.declared;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Moment;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.UnexpectedCountException;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;

class DeclaredOperationsTest {
    private static final By ODILE = By.user("odile");

    private static final RuleBook RULES =
            RuleBook.bySchema().marker("hive", Marker.timestamp("left_at")).soft("hive");

    /** Deletions as an application declares them. */
    @DeletesFrom("hive")
    interface Hives {
        Question ask(int hive, By by);

        Outcome delete(int hive, By by);

        void deleteSeveral(Collection<Integer> hives, By by);

        @Picks("apiary.village = :village and set_up_on < :before")
        Plan plan(String village, LocalDate before, By by);

        @Picks("apiary.village in (:villages, 'Mill')")
        long deleteIn(By by, Set<String> villages);

        @Picks(value = "name like :pattern or set_up_on > :after", atMost = 2, hard = true)
        int deleteLike(String pattern, Moment after, By by);

        default Outcome deleteTwelve(By by) {
            return delete(12, by);
        }
    }

    @DeletesFrom("stay")
    interface Stays {
        long delete(int apiary, int keeper, By by);
    }

    private static Database larkmoor(Engine engine) {
        return engine.database()
                .run(
                        "create table apiary (apiary_id integer primary key, village varchar(20))",
                        "create table hive (hive_id integer primary key, apiary_id integer not null, name varchar(20), set_up_on date,"
                                + " left_at timestamp null, foreign key (apiary_id) references apiary (apiary_id))",
                        "create table stay (apiary_id integer not null, keeper_id integer not null, primary key (apiary_id, keeper_id))",
                        "insert into apiary values (1, 'Fell'), (2, 'Mill'), (3, 'Moor')",
                        "insert into hive (hive_id, apiary_id, name, set_up_on) values (11, 1, 'Fell one', '2024-04-01'),"
                                + " (12, 1, 'Fell two', '2025-04-01'), (21, 2, 'Mill one', '2024-04-01'), (31, 3, 'Moor one', '2024-04-01')",
                        "insert into stay values (1, 1), (1, 2), (2, 1)");
    }

    private static Hives hives(Database database) {
        return DeclaredOperations.of(Vacancy.over(database.source(), RULES), Hives.class);
    }

    private static List<String> active(Database database) {
        return database.rows("select hive_id from hive where left_at is null order by 1");
    }

    @OnEveryEngine
    void aMethodByKeyLooksOrDeletes(Engine engine) {
        Database database = larkmoor(engine);
        Hives hives = hives(database);

        assertThat(hives.ask(11, ODILE).text()).isEqualTo("Delete hive 11 'Fell one'?");
        assertThat(active(database)).containsExactly("11", "12", "21", "31");
        assertThat(hives.delete(11, ODILE).total()).isEqualTo(1);
        assertThat(hives.deleteTwelve(ODILE).total()).isEqualTo(1);
        hives.deleteSeveral(List.of(21), ODILE);
        assertThat(active(database)).containsExactly("31");
        assertThat(DeclaredOperations.of(Vacancy.over(database.source()), Stays.class)
                        .delete(1, 2, ODILE))
                .isEqualTo(1);
        assertThat(database.count("stay")).isEqualTo(2);
    }

    @OnEveryEngine
    void aMethodByCriteriaPicksWithTheValuesOfTheCall(Engine engine) {
        Database database = larkmoor(engine);
        Hives hives = hives(database);

        assertThat(hives.plan("Fell", LocalDate.of(2025, 1, 1), ODILE).selected())
                .isEqualTo(1);
        assertThat(hives.plan("Fell", LocalDate.of(2026, 1, 1), ODILE).selected())
                .isEqualTo(2);
        assertThat(hives.plan("x' or 'a' = 'a", LocalDate.of(2026, 1, 1), ODILE).selected())
                .isZero();
        assertThatThrownBy(() -> hives.deleteLike("%o%", Moment.today(), ODILE))
                .isInstanceOf(UnexpectedCountException.class);
        assertThat(hives.deleteLike("Moor%", Moment.today(), ODILE)).isEqualTo(1);
        assertThat(database.rows("select hive_id from hive order by 1")).containsExactly("11", "12", "21");
        assertThat(hives.deleteIn(ODILE, Set.of("Fell"))).isEqualTo(3);
        assertThat(active(database)).isEmpty();
        assertThat(database.count("hive")).isEqualTo(3);
    }

    @Test
    void aCallWithNullIsRefused() {
        Database database = larkmoor(Engine.H2);
        Hives hives = hives(database);
        @Nullable String nowhere = null;
        List<Integer> oneIsMissing = Arrays.asList(11, null);

        assertThatThrownBy(() -> hives.plan(nowhere, LocalDate.EPOCH, ODILE))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("The parameter village is null");
        assertThatThrownBy(() -> hives.delete(11, null))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("Nobody is named who wants it");
        assertThatThrownBy(() -> hives.deleteIn(ODILE, new HashSet<>(Arrays.asList("Fell", null))))
                .isInstanceOf(InvalidRequestException.class);
        assertThatThrownBy(() -> hives.deleteSeveral(oneIsMissing, ODILE)).isInstanceOf(InvalidRequestException.class);
        assertThat(active(database)).hasSize(4);
    }

    @Test
    void itIsAnObjectLikeOthers() {
        Database database = larkmoor(Engine.H2);
        Hives hives = hives(database);

        assertThat(Set.of(hives, hives(database))).hasSize(2).contains(hives);
        assertThat(hives).hasToString("deletions declared by " + Hives.class.getName());
    }

    /** All that can be wrong, each in a method of its own. */
    @DeletesFrom("hive")
    interface Wrong {
        Outcome byTextualKey(String hive, By by);

        Outcome byTwoKeys(int hive, int other, By by);

        Outcome byNobody(int hive);

        String whatever(int hive, By by);

        @Picks("colour = :colour")
        Outcome byMissingColumn(String colour, By by);

        @Picks("keeper.name = :name")
        Outcome byMissingLink(String name, By by);

        @Picks("name = :nam")
        Outcome byMisspeltParameter(String name, By by);

        @Picks("name = 'Fell one'")
        Outcome byUnusedParameter(String name, By by);

        @Picks("set_up_on < :before")
        Outcome byOtherType(int before, By by);

        @Picks("set_up_on < 'yesterday' and name = :name")
        Outcome byOtherLiteral(String name, By by);

        @Picks("name = :names")
        Outcome bySeveralAsOne(List<String> names, By by);

        @Picks("hive_id in (:hives)")
        Outcome bySeveralOfAnotherType(List<String> hives, By by);

        @Picks("hive_id like :pattern")
        Outcome byPatternOfNumber(String pattern, By by);

        @Picks("name like :pattern")
        Outcome byNumberAsPattern(int pattern, By by);

        @Picks("name = ")
        Outcome byNoCriteria(By by);
    }

    @Test
    void allThatIsWrongIsToldWhenItIsMade() {
        Vacancy vacancy = Vacancy.over(larkmoor(Engine.H2).source());

        assertThatThrownBy(() -> DeclaredOperations.of(vacancy, Wrong.class))
                .isInstanceOf(InvalidRequestException.class)
                .message()
                .satisfies(message -> assertThat(message.lines()).hasSize(15))
                .contains("Wrong.byTextualKey: Parameter hive is String, and hive_id is INTEGER.")
                .contains("Wrong.byTwoKeys: It has 2 parameters beside the By, and the key of hive has 1 columns.")
                .contains("Wrong.byNobody: It has 0 parameters of the type By.")
                .contains("Wrong.whatever: It returns String.")
                .contains("Wrong.byMissingColumn: ", "colour")
                .contains("Wrong.byMissingLink: No link leads from hive to a parent 'keeper'.")
                .contains("Wrong.byMisspeltParameter: Its criteria has :nam, which is no parameter. There are: name.")
                .contains("Wrong.byUnusedParameter: Its criteria doesn't use the parameter name.")
                .contains("Wrong.byOtherType: Parameter before is int, and set_up_on is DATE.")
                .contains("Wrong.byOtherLiteral: ", "yesterday")
                .contains(
                        "Wrong.bySeveralAsOne: The collection names is compared as one value. Write name in (:names).")
                .contains("Wrong.bySeveralOfAnotherType: Parameter hives is String, and hive_id is INTEGER.")
                .contains("Wrong.byPatternOfNumber: ", "which has no patterns")
                .contains("Wrong.byNumberAsPattern: The pattern of name isn't a String.")
                .contains("Wrong.byNoCriteria: ")
                .contains("Correct " + Wrong.class.getName() + ".");
    }

    interface Nameless {
        Outcome delete(int hive, By by);
    }

    @DeletesFrom("hives")
    interface Misspelt {
        Outcome delete(int hive, By by);
    }

    @Test
    void anInterfaceOfNoTableIsRefused() {
        Vacancy vacancy = Vacancy.over(larkmoor(Engine.H2).source());

        assertThatThrownBy(() -> DeclaredOperations.of(vacancy, Nameless.class))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("isn't an interface with @DeletesFrom");
        assertThatThrownBy(() -> DeclaredOperations.of(vacancy, Misspelt.class))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("hives");
    }
}
