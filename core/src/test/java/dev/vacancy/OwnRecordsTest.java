package dev.vacancy;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Permissions.Action;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.history.History;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Who may delete only what is theirs, and who may not see everything of it. */
class OwnRecordsTest {
    private static final By ODILE = By.user("odile");
    private static final String SECRET = "0170 4455";

    private static final Permissions ALL = (by, act, table) -> true;

    /** Hives belong to whoever keeps them; of other tables everybody may do everything. */
    private static final Permissions OWN = ALL.ofRecords((by, act, table, values) ->
            !table.equalsIgnoreCase("hive") || by.actor().equals(value(values, "keeper")));

    private static final Permissions WITHOUT_PHONES =
            ALL.withholding((by, table, column) -> column.equalsIgnoreCase("phone"));

    private static Object value(Map<String, Object> values, String column) {
        return values.entrySet().stream()
                .filter(entry -> entry.getKey().equalsIgnoreCase(column))
                .map(Map.Entry::getValue)
                .findFirst()
                .orElse(null);
    }

    private Database database;
    private Vacancy vacancy;

    private void prepare(Engine engine) {
        database = engine.database();
        database.run(
                "create table hive (hive_id integer primary key, phone varchar(40), keeper varchar(20), gone_at timestamp)",
                "create table reading (reading_id integer primary key, hive_id integer, phone varchar(40),"
                        + " foreign key (hive_id) references hive (hive_id))",
                "create table visit (visit_id integer primary key, hive_id integer, phone varchar(40),"
                        + " foreign key (hive_id) references hive (hive_id))",
                "insert into hive values (1, '" + SECRET + "1', 'odile', null), (2, '" + SECRET
                        + "2', 'tam', null), (3, '" + SECRET + "3', 'odile', null), (4, '" + SECRET
                        + "4', 'odile', null)",
                "insert into reading values (10, 1, '" + SECRET + "5'), (11, 2, '" + SECRET + "6')",
                "insert into visit values (20, 4, '" + SECRET + "7')",
                "create table tag (tag_id integer primary key, phone varchar(40) unique)",
                "insert into tag values (1, '" + SECRET + "8')");
        RuleBook rules = RuleBook.bySchema()
                .on("reading.hive_id", Clause.cascade())
                .on("visit.hive_id", Clause.block("a visit is planned"))
                .marker("hive", Marker.timestamp("gone_at"))
                .soft("hive", SoftDelete.defaults())
                .label("hive", "{phone}")
                .label("reading", "{phone}")
                .label("visit", "{phone}")
                .trail(Trail.defaults());
        Ddl.of(database.source(), rules).apply();
        vacancy = Vacancy.over(database.source(), rules);
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
    }

    private static void assertForbidden(ThrowingCallable doing) {
        assertThatThrownBy(doing)
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        failure -> assertThat(failure.code()).isEqualTo(FailureCode.FORBIDDEN));
    }

    private static Selection hive(int... keys) {
        List<Integer> all = new ArrayList<>();
        for (int key : keys) {
            all.add(key);
        }
        return Selection.of("hive").keys(all);
    }

    @ParameterizedTest
    @EnumSource(Engine.class)
    void ofSomebodyElsesRecordsNothingIsPlannedNorRunByAnyDoor(Engine engine) {
        prepare(engine);
        Vacancy odiles = vacancy.actingFor(ODILE, OWN);
        Selection mixed = hive(1, 2);
        Selection keeping = Selection.of("hive").where(Criteria.parse("hive_id < 3"));
        Plan shown = vacancy.plan(mixed, ODILE);
        Plan hard = vacancy.plan(hive(2).hard(), ODILE);
        List<String> before = database.contents("hive");

        assertForbidden(() -> odiles.plan(hive(2), ODILE));
        assertForbidden(() -> odiles.plan(keeping, ODILE));
        assertForbidden(() -> odiles.delete(mixed, ODILE));
        assertForbidden(() -> odiles.run(Approval.of(shown)));
        assertForbidden(() -> odiles.erase(Approval.ofErasing(hard)));
        assertForbidden(() -> odiles.bulk().start(Approval.inChunks(shown), BulkOptions.defaults()));
        assertForbidden(() -> odiles.bulk().start(keeping, ODILE, BulkOptions.defaults()));

        assertThat(database.contents("hive")).isEqualTo(before);
        assertThat(odiles.bulk().list()).isEmpty();
        assertThat(odiles.delete(hive(1), ODILE).counts()).containsEntry(name("hive"), 1L);
    }

    /** Of more records than a plan shows or holds each is looked at. */
    @ParameterizedTest
    @EnumSource(Engine.class)
    void amongThousandsTheOneOfSomebodyElseIsFound(Engine engine) {
        prepare(engine);
        StringBuilder more = new StringBuilder("insert into hive values (5000, 'x', 'tam', null)");
        for (int id = 100; id < 1_300; id++) {
            more.append(", (").append(id).append(", 'x', 'odile', null)");
        }
        database.run(more.toString());
        Vacancy odiles =
                vacancy.actingFor(ODILE, OWN).withLimits(Limits.defaults().keysHeld(10));
        Selection all = Selection.of("hive").where(Criteria.parse("phone = 'x'"));
        Plan shown = vacancy.plan(all, ODILE);

        assertForbidden(() -> odiles.plan(all, ODILE));
        assertForbidden(() -> odiles.run(Approval.of(shown)));
        database.run("delete from hive where hive_id = 5000");

        assertThat(odiles.plan(all, ODILE).selected()).isEqualTo(1_200);
    }

    @ParameterizedTest
    @EnumSource(Engine.class)
    void whatHappenedToSomebodyElsesRecordsIsNotToldNorUndone(Engine engine) {
        prepare(engine);
        UUID others = vacancy.delete(hive(2), By.user("tam")).runId();
        UUID own = vacancy.delete(hive(1), By.user("tam")).runId();
        History history = vacancy.actingFor(ODILE, OWN).history();
        Approval approval = Approval.of(vacancy.history().planRestore(others, ODILE));

        assertThat(history.entries(HistoryQuery.all().ofTable("hive")))
                .extracting(TrailEntry::key)
                .containsExactly("1");
        assertThat(history.deleted("hive", 10))
                .extracting(deleted -> deleted.record().key().text())
                .containsExactly("1");
        assertThat(history.runs(HistoryQuery.all()))
                .noneMatch(run -> run.selection().contains("2"));
        assertForbidden(() -> history.planRestore(others, ODILE));
        assertForbidden(() -> history.restore(approval));
        assertForbidden(() -> history.planErasure("hive", "2", ODILE));
        assertForbidden(() -> history.erase("hive", "2", ODILE));
        assertThat(history.restore(Approval.of(history.planRestore(own, ODILE))).counts())
                .containsEntry(name("hive"), 1L);
    }

    /** Of a run that took others' records too, one's own comes back by itself. */
    @ParameterizedTest
    @EnumSource(Engine.class)
    void onesOwnRecordComesBackFromARunThatTookOthersAsWell(Engine engine) {
        prepare(engine);
        UUID run = vacancy.delete(hive(1, 2), By.user("tam")).runId();
        History history = vacancy.actingFor(ODILE, OWN).history();

        assertForbidden(() -> history.planRestore(run, ODILE));
        assertForbidden(() -> history.planRestore(run, "hive", "2", ODILE));
        assertThat(history.restore(Approval.of(history.planRestore(run, "hive", "1", ODILE)))
                        .counts())
                .containsEntry(name("hive"), 1L);
    }

    /** Whatever is told is searched for what isn't to be told. */
    @ParameterizedTest
    @EnumSource(Engine.class)
    void aColumnThatIsWithheldIsToldNowhere(Engine engine) {
        prepare(engine);
        Vacancy odiles = vacancy.actingFor(ODILE, WITHOUT_PHONES);
        Plan free = odiles.plan(hive(1), ODILE);
        Plan blocked = odiles.plan(hive(4), ODILE);
        Plan skipping = odiles.plan(hive(1, 4).skippingBlocked(), ODILE);
        List<Object> told = new ArrayList<>();
        for (Plan plan : List.of(free, blocked, skipping)) {
            told.addAll(List.of(plan, JsonForm.of(plan), plan.tree(), plan.roots(), plan.blockers(), plan.skipped()));
        }
        told.addAll(List.of(free.label(), skipping.effects(), odiles.list(hive(1, 2), ODILE, 10)));
        Outcome outcome = odiles.run(Approval.of(skipping));
        told.addAll(List.of(outcome, JsonForm.of(outcome), outcome.deleted(), outcome.skipped()));
        vacancy.delete(Selection.of("hive").where(Criteria.parse("phone = '" + SECRET + "3'")), By.user("tam"));
        History history = odiles.history();
        told.addAll(List.of(
                history.entries(HistoryQuery.all()),
                history.runs(HistoryQuery.all()),
                history.deleted("hive", 10),
                history.deleted("hive", 10).stream().map(JsonForm::of).toList()));
        history.forEach(HistoryQuery.all(), told::add);
        UUID tag = vacancy.delete(Selection.of("tag").key(1), By.user("tam")).runId();
        database.run("insert into tag values (2, '" + SECRET + "8')");
        told.add(history.planRestore(tag, ODILE).conflicts());
        assertThat(history.planRestore(tag, ODILE).conflicts()).hasSize(1);

        assertThat(told).allSatisfy(thing -> assertThat(thing.toString()).doesNotContain(SECRET));
        assertThat(free.roots().get(0).values())
                .doesNotContainKey(column("phone"))
                .containsKey(column("keeper"));
        assertThat(history.entries(HistoryQuery.all().ofTable("hive"))
                        .get(0)
                        .before()
                        .orElseThrow())
                .containsKey(column("keeper"));
        assertForbidden(() -> odiles.plan(
                Selection.of("hive").where(Criteria.parse("keeper = 'odile' and not (phone like '0170%')")), ODILE));
        assertForbidden(
                () -> odiles.plan(Selection.of("reading").where(Criteria.parse("hive.phone is not null")), ODILE));
    }

    /** To see a record is a matter of the record, too; its key is told all the same. */
    @ParameterizedTest
    @EnumSource(Engine.class)
    void whoMayOnlyPreviewSomebodyElsesRecordSeesItsKey(Engine engine) {
        prepare(engine);
        Vacancy odiles = vacancy.actingFor(
                ODILE,
                ALL.ofRecords((by, act, table, values) ->
                        act != Action.SEE || by.actor().equals(value(values, "keeper"))));

        Plan plan = odiles.plan(hive(1, 2), ODILE);

        assertThat(plan.roots().get(0).values()).hasSize(4);
        assertThat(plan.roots().get(1).values()).hasSize(1);
        assertThat(plan.roots().get(1).label()).isEmpty();
    }

    private String name(String table) {
        return vacancy.catalog().table(table).name();
    }

    private String column(String name) {
        return vacancy.catalog().table("hive").column(name).name();
    }
}
