package dev.vacancy.criteria;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Values that databases take in ways of their own: what is picked is what SQL means, and what can't be is refused in plain words. */
class OddValuesTest {
    private static final By ODILE = By.user("odile");

    private Database database;
    private Vacancy vacancy;

    private void prepare(Engine engine, String... further) {
        database = engine.database();
        database.run(
                "create table hive (hive_id integer primary key, name varchar(40), born date, seen timestamp)",
                "insert into hive values (1, 'a', '2024-01-05', '2024-01-05 10:00:00'), (2, 'A', '2024-02-05', null),"
                        + " (3, 'x😀', '2024-02-29', null), (4, 'xy', null, null), (5, 'x\n', null, null), (6, 'x_', null, null)");
        database.run(further);
        vacancy = Vacancy.over(database.source());
    }

    private Plan plan(String where) {
        return vacancy.plan(Selection.of("hive").where(Criteria.parse(where)), ODILE);
    }

    private List<String> picked(String where) {
        return plan(where).roots().stream().map(root -> root.key().text()).toList();
    }

    @ParameterizedTest
    @EnumSource(Engine.class)
    void anUnderscoreIsOneCharacterWhateverItTakes(Engine engine) {
        prepare(engine);

        assertThat(picked("name like 'x_'")).containsExactly("3", "4", "5", "6");
        assertThat(picked("name like '__'")).containsExactly("3", "4", "5", "6");
        assertThat(picked("name like '_😀'")).containsExactly("3");
        assertThat(picked("name like 'x__'")).isEmpty();
        assertThat(picked("name like '%_😀%'")).containsExactly("3");
        assertThat(picked("not (name like 'x_')")).containsExactly("1", "2");
    }

    @ParameterizedTest
    @EnumSource(value = Engine.class, mode = EnumSource.Mode.EXCLUDE, names = "SQLITE")
    void aDateThatThereIsNotIsRefusedInPlainWords(Engine engine) {
        prepare(engine);
        for (String where : List.of(
                "born = '2023-02-30'",
                "born in ('2023-02-30', '2024-01-05')",
                "seen > '2024-01-05 25:00:00'",
                "seen > '999999-01-01 00:00:00'")) {
            assertThatThrownBy(() -> plan(where))
                    .as(where)
                    .isInstanceOfSatisfying(InvalidRequestException.class, refusal -> {
                        assertThat(refusal.code()).isEqualTo(FailureCode.VALUE_TYPE);
                        assertThat(refusal.problem()).contains("hive.").doesNotContain("out of range");
                    });
        }
    }

    @Test
    void whatPostgresqlCannotCompareIsRefusedInPlainWords() {
        prepare(
                Engine.POSTGRESQL,
                "alter table hive add doc json",
                "alter table hive add page xml",
                "update hive set doc = '{\"a\": 1}', page = '<a/>' where hive_id = 1");
        for (String where : List.of("doc = '{\"a\": 1}'", "doc in ('1', '2')", "page = '<a/>'", "not (doc <> '1')")) {
            assertThatThrownBy(() -> plan(where))
                    .as(where)
                    .isInstanceOfSatisfying(InvalidRequestException.class, refusal -> {
                        assertThat(refusal.code()).isEqualTo(FailureCode.VALUE_TYPE);
                        assertThat(refusal.problem()).doesNotContain("operator");
                    });
        }

        assertThat(picked("doc is not null")).containsExactly("1");
    }

    /** Of a time that is spelled another way it is true neither that it equals nor that it is another; not to be another is to mean the same. */
    @Test
    void whatIsNotAnotherTimeMeansTheSameOnSqlite() {
        prepare(Engine.SQLITE, "update hive set seen = '2024-01-05T10:00' where hive_id = 2");

        assertThat(picked("seen = '2024-01-05 10:00:00'")).containsExactly("1");
        assertThat(picked("seen <> '2024-01-05 10:00:00'")).isEmpty();
        assertThat(picked("not (seen <> '2024-01-05 10:00:00')")).containsExactly("1", "2");
    }

    @ParameterizedTest
    @EnumSource(Engine.class)
    void aCollationForWhichTextsAreTheSameIsTold(Engine engine) {
        prepare(engine);
        database.run(
                switch (engine) {
                    case H2 -> "alter table hive alter column name varchar_ignorecase(40)";
                    case POSTGRESQL -> "create extension if not exists citext";
                    case MARIADB -> "alter table hive modify name varchar(40) collate utf8mb4_unicode_ci";
                    case SQLITE -> "create index by_name on hive (name)";
                });
        if (engine == Engine.POSTGRESQL) {
            database.run("alter table hive alter column name type citext");
        }
        vacancy = Vacancy.over(database.source());
        boolean folded = picked("name = 'a'").size() == 2;

        assertThat(plan("name = 'a'").warnings().stream().anyMatch(told -> told.contains("hive.name by a collation")))
                .isEqualTo(folded);
        assertThat(plan("hive_id = 1").warnings()).isEmpty();
        assertThat(plan("name is not null and hive_id < 4").warnings()).isEmpty();
        assertThat(folded).isEqualTo(engine != Engine.SQLITE);
    }
}
