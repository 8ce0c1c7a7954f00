package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.util.List;
import java.util.Optional;
import org.h2.jdbcx.JdbcDataSource;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What the rules need is made for tables and columns that are called or filled in a way that nobody would expect. */
class OddDdlTest {
    private static final By ODILE = By.user("odile");

    /** What was made once isn't missing any more, and works. */
    private static Vacancy applied(Database database, RuleBook book) {
        for (Ddl ddl = Ddl.of(database.source(), book); ddl.isNeeded(); ddl = Ddl.of(database.source(), book)) {
            assertThat(ddl.apply()).isPositive();
        }
        return Vacancy.over(database.source(), book);
    }

    private static void goesAndComesBack(Vacancy vacancy, String table) {
        var run = vacancy.run(Approval.of(vacancy.plan(Selection.of(table).key(1), ODILE)));
        assertThat(vacancy.active(table)).isNotNull();
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run.runId(), ODILE)));
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void aTableWithALongName(Engine engine) {
        String name = "inspections_of_hives_that_were_moved_from_one_apiary_to_next_ab";
        Database database = engine.database()
                .run(
                        "create table " + name + " (id integer primary key, email varchar(40), phone varchar(40))",
                        "insert into " + name + " values (1, 'a', 'b')");
        RuleBook book = RuleBook.bySchema()
                .marker(name, Marker.timestamp("gone_at"))
                .soft(name, SoftDelete.defaults().uniqueWhileActive("email").uniqueWhileActive("phone"))
                .trail(Trail.defaults());

        goesAndComesBack(applied(database, book), name);

        assertThat(name).hasSize(63);
    }

    @OnEveryEngine
    void twoIndexesThatBeginWithTheSameColumn(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (id integer primary key, email varchar(40), phone varchar(40))",
                        "insert into keeper values (1, 'a', 'b')");
        RuleBook book = RuleBook.bySchema()
                .marker("keeper", Marker.timestamp("gone_at"))
                .soft("keeper", SoftDelete.defaults().uniqueWhileActive("email").uniqueWhileActive("email", "phone"))
                .trail(Trail.defaults());

        goesAndComesBack(applied(database, book), "keeper");
    }

    @OnEveryEngine
    void aFlagThatIsANumberOrEndsInABackslash(Engine engine) {
        for (List<?> values : List.of(List.of(1, 0), List.of("kept\\", "gone\\"), List.of("it's", "over"))) {
            Database database = engine.database()
                    .run("create table keeper (id integer primary key)", "insert into keeper values (1)");
            RuleBook book = RuleBook.bySchema()
                    .marker("keeper", Marker.flag("state", values.get(0), values.get(1)))
                    .soft("keeper")
                    .trail(Trail.defaults());
            Vacancy vacancy = applied(database, book);

            assertThat(database.rows("select state from keeper"))
                    .containsExactly(values.get(0).toString());
            boolean number = values.get(0) instanceof Integer;
            assertThat(ColumnType.of(vacancy.catalog().table("keeper").column("state"))
                            .isInteger())
                    .isEqualTo(number);
            goesAndComesBack(vacancy, "keeper");
            assertThat(database.rows("select state from keeper"))
                    .containsExactly(values.get(0).toString());
        }
    }

    @OnEveryEngine
    void aTableWithABlankInItsNameHasItsView(Engine engine) {
        String quote = engine == Engine.MARIADB ? "`" : "\"";
        String name = quote + "Old Hives" + quote;
        String view = quote + "active_Old Hives" + quote;
        Database database = engine.database()
                .run("create table " + name + " (id integer primary key)", "insert into " + name + " values (1), (2)");
        RuleBook book = RuleBook.bySchema()
                .marker("Old Hives", Marker.timestamp("gone_at"))
                .soft("Old Hives")
                .trail(Trail.defaults());
        Vacancy vacancy = applied(database, book);
        vacancy.delete(Selection.of("Old Hives").key(2), ODILE);

        assertThat(database.rows("select id from " + view)).containsExactly("1");
    }

    /** There an empty text is none, or a query may not say how many rows it wants. */
    @ParameterizedTest
    @ValueSource(strings = {"Oracle", "MSSQLServer", "Derby", "STRICT"})
    void aModeThatSpeaksAnotherLanguage(String mode) {
        JdbcDataSource source = new JdbcDataSource();
        source.setURL("jdbc:h2:mem:;MODE=" + mode);

        assertThatThrownBy(() -> Vacancy.over(source))
                .isInstanceOfSatisfying(
                        InvalidRequestException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.UNFIT_CONNECTION))
                .hasMessageContaining("This H2 is in the mode " + mode);
    }
}
