package dev.vacancy.retirement;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Question;
import dev.vacancy.Vacancy;
import dev.vacancy.retirement.Dependent.Fate;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Period;
import java.util.List;
import java.util.UUID;
import org.junit.jupiter.api.io.TempDir;

/** Columns and tables are set aside, dropped and brought back, and nothing of them is lost. */
class RetirementTest {
    private static final By ODILE = By.user("odile").because("nobody asks for it");
    private static final RuleBook RULES = RuleBook.bySchema().trail(Trail.defaults());
    private static final String[] TABLES = {"apiary", "hive", "photo"};

    @TempDir
    Path folder;

    /** Apiaries with hives and their photos; the hive has a column with all that can stand on one. */
    private static Database larkmoor(Engine engine) {
        Database database = engine.database();
        String text = engine == Engine.SQLITE ? "text" : "varchar(40)";
        database.run(
                "create table apiary (apiary_id int primary key, name " + text + ")",
                "create table hive (hive_id int primary key, name " + text + " not null, wood " + text
                        + " not null, apiary_id int references apiary (apiary_id), check (wood <> ''), unique (name, wood))",
                "create index hive_by_wood on hive (wood)",
                "create table photo (photo_id int primary key, hive_id int, path " + text + " default 'none',"
                        + " constraint photo_of_hive foreign key (hive_id) references hive (hive_id) on delete cascade)",
                "create view wooden as select hive_id, wood from hive",
                "create view oaken as select hive_id from wooden where wood = 'oak'",
                "insert into apiary values (1, 'Fellside'), (2, 'Bramble')",
                "insert into hive values (1, 'One', 'oak', 1), (2, 'Two', 'pine', 1), (3, 'Three', 'it''s \"ash\"', null)",
                "insert into photo values (10, 1, 'a.jpg'), (11, 2, null)");
        Ddl.of(database.source(), RULES, Ddl.Part.RETIREMENTS).apply();
        return database;
    }

    private static Vacancy over(Database database) {
        return Vacancy.over(database.source(), RULES);
    }

    private static RetirementOutcome agreed(Vacancy vacancy, RetirementPlan plan) {
        Question question = Question.about(plan);
        return vacancy.retire(question.answer(question.typed().orElse("yes")).orElseThrow());
    }

    private static UUID setAside(Database database, Retirement retirement) {
        Vacancy vacancy = over(database);
        return agreed(vacancy, vacancy.plan(retirement, ODILE)).id();
    }

    private static Retirement wood() {
        return Retirement.ofColumn("hive", "wood").along("wooden", "oaken").keptFor(Period.ZERO);
    }

    private static Retirement photo() {
        return Retirement.ofTable("photo").keptFor(Period.ZERO);
    }

    @OnEveryEngine
    void aPlanTellsWhatStandsOnAColumn(Engine engine) {
        Vacancy vacancy = over(larkmoor(engine));

        RetirementPlan plan = vacancy.plan(Retirement.ofColumn("hive", "wood"), ODILE);

        assertThat(plan.records()).isEqualTo(3);
        assertThat(plan.filled()).isEqualTo(3);
        assertThat(plan.isBlocked()).isTrue();
        assertThat(plan.dependents().stream()
                        .filter(object -> object.fate() == Fate.IN_THE_WAY)
                        .map(Dependent::name))
                .containsExactlyInAnyOrder("oaken", "wooden");
        assertThat(plan.dependents())
                .extracting(Dependent::kind)
                .contains(
                        Dependent.Kind.CHECK, Dependent.Kind.UNIQUE_KEY, Dependent.Kind.NOT_NULL, Dependent.Kind.INDEX);
        assertThat(plan.use()).isNotEmpty();
        assertThat(plan.unknown()).isNotEmpty();
        assertThatThrownBy(() -> Question.about(plan)).hasMessageContaining("in the way");
    }

    @OnEveryEngine
    void aColumnThatIsSetAsideFailsAndComesBackAsItWas(Engine engine) {
        Database database = larkmoor(engine);
        List<String> schema = SchemaDump.of(engine, database);
        List<String> contents = database.contents(TABLES);

        UUID id = setAside(database, wood());

        assertThatThrownBy(() -> database.rows("select wood from hive")).isInstanceOf(IllegalStateException.class);
        assertThatThrownBy(() -> database.rows("select * from oaken")).isInstanceOf(IllegalStateException.class);
        database.run("insert into hive (hive_id, name) values (4, 'Four')", "delete from hive where hive_id = 4");
        Vacancy vacancy = over(database);
        agreed(vacancy, vacancy.retirements().planReturn(id, ODILE));

        assertThat(SchemaDump.of(engine, database)).isEqualTo(schema);
        assertThat(database.contents(TABLES)).isEqualTo(contents);
    }

    @OnEveryEngine
    void aColumnThatWasDroppedComesBackFromItsFiles(Engine engine) throws Exception {
        Database database = larkmoor(engine);
        List<String> schema = SchemaDump.of(engine, database);
        List<String> woods = database.rows("select hive_id, wood from hive order by hive_id");
        UUID id = setAside(database, wood());

        Vacancy vacancy = over(database);
        RetirementOutcome dropped = agreed(vacancy, vacancy.retirements().planDrop(id, folder, ODILE));

        assertThat(dropped.records()).isEqualTo(3);
        assertThat(Files.readAllLines(dropped.files().get(1))).hasSize(3).anyMatch(line -> line.contains("oak"));
        assertThat(Files.readString(dropped.files().get(0)))
                .containsIgnoringCase("hive_by_wood")
                .containsIgnoringCase("wooden");
        assertThat(columns(database)).doesNotContain("wood").hasSize(3);
        Vacancy later = over(database);
        agreed(later, later.retirements().planReturn(id, ODILE));
        assertThat(SchemaDump.of(engine, database)).isEqualTo(schema);
        assertThat(database.rows("select hive_id, wood from hive order by hive_id"))
                .isEqualTo(woods);
    }

    private static List<String> columns(Database database) {
        return over(database).catalog().table("hive").columns().stream()
                .map(column -> column.name())
                .toList();
    }

    @OnEveryEngine
    void aTableThatIsSetAsideFailsAndComesBackAsItWas(Engine engine) {
        Database database = larkmoor(engine);
        List<String> schema = SchemaDump.of(engine, database);
        List<String> contents = database.contents(TABLES);

        UUID id = setAside(database, photo());

        assertThatThrownBy(() -> database.rows("select * from photo")).isInstanceOf(IllegalStateException.class);
        assertThat(over(database).catalog().tables())
                .extracting(table -> table.name())
                .containsExactlyInAnyOrder("apiary", "hive");
        Vacancy vacancy = over(database);
        agreed(vacancy, vacancy.retirements().planReturn(id, ODILE));
        assertThat(SchemaDump.of(engine, database)).isEqualTo(schema);
        assertThat(database.contents(TABLES)).isEqualTo(contents);
    }

    @OnEveryEngine
    void aTableThatWasDroppedComesBackFromItsFiles(Engine engine) {
        Database database = larkmoor(engine);
        List<String> schema = SchemaDump.of(engine, database);
        List<String> contents = database.contents(TABLES);
        UUID id = setAside(database, photo());

        Vacancy vacancy = over(database);
        agreed(vacancy, vacancy.retirements().planDrop(id, folder, ODILE));
        assertThat(vacancy.retirements().list()).extracting(Retired::state).containsExactly(Retired.State.DROPPED);
        agreed(vacancy, vacancy.retirements().planReturn(id, ODILE));

        assertThat(SchemaDump.of(engine, database)).isEqualTo(schema);
        assertThat(database.contents(TABLES)).isEqualTo(contents);
    }

    @OnEveryEngine
    void whatLinksToATableGoesAlongByItsName(Engine engine) {
        Database database = larkmoor(engine);
        List<String> schema = SchemaDump.of(engine, database);
        List<String> contents = database.contents(TABLES);
        Vacancy vacancy = over(database);
        RetirementPlan blocked = vacancy.plan(Retirement.ofTable("hive"), ODILE);
        assertThat(blocked.dependents().stream()
                        .filter(object -> object.fate() == Fate.IN_THE_WAY)
                        .map(Dependent::name))
                .containsExactlyInAnyOrder("photo.hive_id", "oaken", "wooden");

        UUID id = setAside(
                database,
                Retirement.ofTable("hive")
                        .along("photo.hive_id", "oaken", "wooden")
                        .keptFor(Period.ZERO));
        Vacancy meanwhile = over(database);
        agreed(meanwhile, meanwhile.retirements().planDrop(id, folder, ODILE));
        agreed(meanwhile, meanwhile.retirements().planReturn(id, ODILE));

        assertThat(SchemaDump.of(engine, database)).isEqualTo(schema);
        assertThat(database.contents(TABLES)).isEqualTo(contents);
    }

    @OnEveryEngine
    void aNameThatNothingHasIsRefused(Engine engine) {
        Vacancy vacancy = over(larkmoor(engine));

        assertThatThrownBy(() -> vacancy.plan(Retirement.ofTable("photo").along("woden"), ODILE))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("woden");
    }
}
