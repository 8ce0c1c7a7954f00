package dev.vacancy.check;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.Finding.Kind;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.OnEveryEngineButMariaDb;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.sqlite.SQLiteDataSource;

/** What the check finds, and what it leaves alone. */
class CheckTest {
    @OnEveryEngine
    void aSoundSchemaHasNoFindings(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key, name varchar(20))",
                        "create table inspection (inspection_id int primary key, hive_id int, foreign key (hive_id)"
                                + " references hive (hive_id) on delete cascade)",
                        "create index inspection_by_hive on inspection (hive_id)");

        assertThat(check(database, RuleBook.bySchema())).isEmpty();
    }

    @OnEveryEngine
    void aFlagThatDoesNotSayWhenAndASecretThatWouldBeKeptAreFound(Engine engine) {
        Database database = engine.database()
                .run("create table keeper (keeper_id int primary key, state varchar(9), pin varchar(9))");
        RuleBook book = RuleBook.bySchema()
                .marker("keeper", Marker.flag("state", "member", "gone"))
                .trail(Trail.defaults());

        assertThat(check(database, book))
                .extracting(Finding::kind, Finding::where)
                .containsExactly(tuple(Kind.FLAG, "keeper.state"), tuple(Kind.SECRET, "keeper.pin"));
        assertThat(check(database, book.trail(Trail.defaults().without("keeper.pin"))))
                .extracting(Finding::kind)
                .containsExactly(Kind.FLAG);
    }

    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"POSTGRESQL", "SQLITE"})
    void aForeignKeyWithoutAnIndexIsFound(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key)",
                        "create table reading (reading_id int primary key, hive_id int, foreign key (hive_id)"
                                + " references hive (hive_id) on delete cascade)");

        assertThat(check(database, RuleBook.bySchema())).singleElement().satisfies(finding -> {
            assertThat(finding.kind()).isEqualTo(Kind.NO_INDEX);
            assertThat(finding.where()).isEqualTo("reading.hive_id");
            assertThat(finding.why()).contains("reads all of reading");
            assertThat(finding.remedy()).isEqualTo("create index reading_by_hive_id on reading (hive_id)");
        });
    }

    @OnEveryEngine
    void aColumnThatIsALinkByNameAndValuesIsFoundInWhateverSpelling(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id int primary key, keeper_code varchar(10))",
                        "create table photo (photo_id int primary key, \"KeeperId\" varchar(10), from_keeper_no int,"
                                + " keeper_nr int, taken_on date)",
                        "insert into keeper values (1, '1'), (2, '2')",
                        "insert into photo values (1, '1', 2, 77, '2026-05-01'), (2, '2', 9, 78, '2026-05-01'),"
                                + " (3, null, 1, 79, '2026-05-01')");

        List<Finding> findings = ofKind(Kind.PERHAPS_LINK, check(database, RuleBook.bySchema()));

        // keeper_nr is named like a link too, but its values are no keys.
        assertThat(findings).extracting(Finding::where).containsExactly("photo.KeeperId", "photo.from_keeper_no");
        assertThat(findings)
                .extracting(Finding::why)
                .satisfiesExactly(
                        all -> assertThat(all).startsWith("all 2 values read from it are keys of keeper"),
                        some -> assertThat(some).startsWith("2 of 3 values read from it are keys of keeper"));
        RuleBook known = RuleBook.bySchema()
                .link("photo.KeeperId", "keeper")
                .on("photo.KeeperId", Clause.cascade())
                .link("photo.from_keeper_no", "keeper")
                .on("photo.from_keeper_no", Clause.detach());
        assertThat(ofKind(Kind.PERHAPS_LINK, check(database, known))).isEmpty();
    }

    @OnEveryEngine
    void rulesThatDontFitAreFindingsTogetherWithTheRest(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key)",
                        "create table reading (hive_id int not null, kilos int, foreign key (hive_id)"
                                + " references hive (hive_id) on delete cascade)",
                        "create index reading_by_hive on reading (hive_id)");
        RuleBook rules =
                RuleBook.bySchema().on("reading.hive_nr", Clause.cascade()).on("reading.hive_id", Clause.detach());

        List<Finding> findings = check(database, rules);

        assertThat(findings).extracting(Finding::kind).containsExactly(Kind.RULE, Kind.RULE, Kind.NO_KEY);
        assertThat(findings.get(0).remedy()).isEqualTo("Did you mean 'reading.hive_id'?");
        assertThat(findings.get(1).why()).contains("can't be detached: the column may not be null");
        assertThat(findings.get(2).where()).isEqualTo("reading");
    }

    @OnEveryEngineButMariaDb
    void aSetNullThatCantBeDoneIsFound(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key)",
                        "create table reading (reading_id int primary key, hive_id int not null, foreign key (hive_id)"
                                + " references hive (hive_id) on delete set null)",
                        "create index reading_by_hive on reading (hive_id)");

        assertThat(check(database, RuleBook.bySchema()))
                .extracting(Finding::kind)
                .containsExactly(Kind.SET_NULL);
    }

    @OnEveryEngine
    void aCircleThatNothingOpensIsFound(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table queen (queen_id int primary key, hive_id int not null)",
                        "create table hive (hive_id int primary key, queen_id int not null)",
                        "create index queen_by_hive on queen (hive_id)",
                        "create index hive_by_queen on hive (queen_id)",
                        "alter table queen add foreign key (hive_id) references hive (hive_id) on delete restrict",
                        "alter table hive add foreign key (queen_id) references queen (queen_id) on delete restrict");

        assertThat(check(database, RuleBook.bySchema())).singleElement().satisfies(finding -> {
            assertThat(finding.kind()).isEqualTo(Kind.CIRCLE);
            assertThat(finding.where()).contains("hive.queen_id -> queen").contains("queen.hive_id -> hive");
        });
    }

    @Test
    void connectionsOfSqliteThatDontEnforceLinksAreFound() {
        SQLiteDataSource careless = new SQLiteDataSource();
        careless.setUrl("jdbc:sqlite::memory:");

        assertThat(Vacancy.check(careless, RuleBook.bySchema()))
                .extracting(Finding::kind)
                .containsExactly(Kind.NOT_ENFORCED);
    }

    private static List<Finding> check(Database database, RuleBook rules) {
        return Vacancy.check(database.source(), rules);
    }

    private static List<Finding> ofKind(Kind kind, List<Finding> findings) {
        return findings.stream().filter(finding -> finding.kind() == kind).toList();
    }

    @OnEveryEngine
    void aRecordInTwoTablesIsNamedOnceAndTheRightWayRound(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table person (person_id int primary key, name varchar(20))",
                        "create table keeper (person_id int primary key, since int,"
                                + " foreign key (person_id) references person (person_id))",
                        "insert into person values (1, 'Odile'), (2, 'Tam')",
                        "insert into keeper values (1, 2020)");

        assertThat(Vacancy.check(database.source(), RuleBook.bySchema()))
                .extracting(Finding::kind, Finding::where)
                .containsExactly(tuple(Finding.Kind.SHARED_KEY, "keeper.person_id"));
    }
}
