package dev.vacancy;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Permissions.Action;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.history.TrailRun;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.time.Instant;
import java.util.EnumMap;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;

/** Nobody plans, runs, restores or is told what they may not, and nobody acts in the name of another. */
class PermissionsTest {
    private static final By TAM = By.user("tam");
    private static final By ODILE = By.user("odile");
    private static final RuleBook BOOK = RuleBook.bySchema()
            .on("treatment.hive_id", Clause.block("its withholding period runs"))
            .trail(Trail.defaults());

    private static Database larkmoor(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(40))",
                        "create table reading (reading_id integer primary key, hive_id integer not null, note varchar(40),"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                        "create table treatment (treatment_id integer primary key, hive_id integer not null,"
                                + " remedy varchar(40), foreign key (hive_id) references hive (hive_id))",
                        "insert into hive values (1, 'Fen One'), (2, 'Fen Two'), (3, 'Fen Three'), (4, 'Fen Four')",
                        "insert into reading values (10, 1, 'secret one'), (11, 1, 'secret two')",
                        "insert into treatment values (20, 4, 'secret three')");
        Ddl.of(database.source(), BOOK).apply();
        return database;
    }

    /** Tam may do these things with hives and nothing with other tables. */
    private static Vacancy forTam(Vacancy vacancy, Action... acts) {
        Set<Action> allowed = acts.length == 0 ? EnumSet.noneOf(Action.class) : EnumSet.copyOf(List.of(acts));
        return vacancy.actingFor(TAM, (by, act, table) -> table.equals("hive") && allowed.contains(act));
    }

    private static void assertForbidden(ThrowingCallable call) {
        assertThatThrownBy(call)
                .isInstanceOfSatisfying(
                        InvalidRequestException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.FORBIDDEN));
    }

    @OnEveryEngine
    void aPlanCountsWhatItsActorMayNotSee(Engine engine) {
        Vacancy vacancy = Vacancy.over(larkmoor(engine).source(), BOOK);
        Vacancy tam = forTam(vacancy, Action.PREVIEW, Action.DELETE);

        Plan seen = tam.plan(Selection.of("hive").key(1), TAM);
        Plan blocked = tam.plan(Selection.of("hive").key(4), TAM);

        assertThat(seen.counts()).containsEntry("reading", 2L);
        assertThat(seen.roots()).singleElement().satisfies(root -> {
            assertThat(root.values()).containsOnlyKeys("hive_id");
            assertThat(root.label()).isEmpty();
        });
        assertThat(Question.about(seen).text() + seen.tree() + JsonForm.of(seen) + JsonForm.of(blocked))
                .doesNotContain("Fen");
        assertThat(seen.tree() + JsonForm.of(seen) + blocked.tree() + JsonForm.of(blocked) + blocked.blockers())
                .doesNotContain("secret");
        assertThat(blocked.blockers()).singleElement().satisfies(blocker -> {
            assertThat(blocker.count()).isEqualTo(1);
            assertThat(blocker.unnamed()).isEqualTo(1);
        });
        assertThat(JsonForm.of(vacancy.plan(Selection.of("hive").key(1), TAM)).toString())
                .contains("secret");
        assertForbidden(() -> tam.run(Approval.of(seen), Reporting.none().keysOf("reading")));
        Outcome outcome = tam.run(Approval.of(seen));
        assertThat(outcome.counts()).containsEntry("reading", 2L);
        assertThat(outcome.deleted().toString() + JsonForm.of(outcome)).doesNotContain("Fen");
    }

    /** Whether something is picked by what a parent holds tells what it holds. */
    @OnEveryEngine
    void criteriaAskAboutParentsThatTheActorMaySee(Engine engine) {
        Vacancy all = Vacancy.over(larkmoor(engine).source(), BOOK);
        Vacancy tam = all.actingFor(TAM, (by, act, table) -> table.equals("reading"));
        Vacancy odile = all.actingFor(
                ODILE, (by, act, table) -> table.equals("reading") || (table.equals("hive") && act == Action.SEE));
        List<String> asking = List.of(
                "hive.name like 'Fen%'",
                "reading_id = 10 or hive.name = 'Fen One'",
                "not (reading_id = 10 and hive.name = 'Fen One')",
                "hive_id.name is not null and reading_id > 0");

        asking.forEach(text -> {
            Selection selection = Selection.of("reading").where(Criteria.parse(text));
            assertForbidden(() -> tam.plan(selection, TAM));
            assertForbidden(() -> tam.list(selection, TAM, 1));
            assertThat(odile.plan(selection, ODILE).selected()).isPositive();
        });
        assertThat(tam.plan(Selection.of("reading").where(Criteria.parse("hive_id = 1 and note like 'secret%'")), TAM)
                        .selected())
                .isEqualTo(2);
    }

    @OnEveryEngine
    void eachWayOfDeletingIsAskedFor(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        Plan one = vacancy.plan(Selection.of("hive").key(1), TAM);
        Plan hard = vacancy.plan(Selection.of("hive").key(1).hard(), TAM);
        Plan several = vacancy.plan(Selection.of("hive").keys(List.of(1, 2)), TAM);
        Plan matching = vacancy.plan(Selection.of("hive").where(Criteria.parse("hive_id = 1")), TAM);
        Plan all = vacancy.plan(Selection.of("hive").allRecords().skippingBlocked(), TAM);

        assertForbidden(() -> forTam(vacancy).plan(Selection.of("hive").key(1), TAM));
        assertForbidden(() ->
                forTam(vacancy, Action.PREVIEW).plan(Selection.of("reading").key(10), TAM));
        assertForbidden(() -> forTam(vacancy, Action.PREVIEW).run(Approval.of(one)));
        assertForbidden(() -> forTam(vacancy, Action.DELETE).run(Approval.of(hard)));
        assertForbidden(() -> forTam(vacancy, Action.DELETE).run(Approval.of(several)));
        assertForbidden(() -> forTam(vacancy, Action.DELETE).run(Approval.of(matching)));
        assertForbidden(
                () -> forTam(vacancy, Action.DELETE, Action.DELETE_SEVERAL).run(Approval.of(all)));
        assertForbidden(
                () -> forTam(vacancy, Action.DELETE).bulk().start(Approval.inChunks(several), BulkOptions.defaults()));
        assertForbidden(() -> forTam(vacancy, Action.DELETE).erase(Approval.ofErasing(one)));
        assertForbidden(() -> forTam(vacancy, Action.DELETE).plan(Emptying.of("reading"), TAM));
        assertForbidden(
                () -> forTam(vacancy, Action.DELETE).run(Approval.of(vacancy.plan(Emptying.of("reading"), TAM))));
        assertThat(database.count("hive")).isEqualTo(4);
        assertThat(database.count("reading")).isEqualTo(2);

        forTam(vacancy, Action.DELETE, Action.DELETE_SEVERAL).run(Approval.of(several));
        assertThat(database.count("hive")).isEqualTo(2);
    }

    @OnEveryEngine
    void nobodyActsInTheNameOfAnother(Engine engine) {
        Vacancy vacancy = Vacancy.over(larkmoor(engine).source(), BOOK);
        Vacancy tam = vacancy.actingFor(TAM, (by, act, table) -> true);
        Plan odiles = vacancy.plan(Selection.of("hive").key(1), ODILE);

        assertForbidden(() -> tam.plan(Selection.of("hive").key(1), ODILE));
        assertForbidden(() -> tam.run(Approval.of(odiles)));
        assertForbidden(() -> tam.history().hold("hive", "hive_id = 1", ODILE));
        assertThat(tam.run(Approval.of(tam.plan(Selection.of("hive").key(1), TAM.because("swarmed"))))
                        .counts())
                .containsEntry("hive", 1L);
    }

    @OnEveryEngine
    void theTrailIsToldAndChangedAsFarAsItsReaderMay(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        UUID gone = vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(1), TAM)))
                .runId();
        Vacancy nothing = forTam(vacancy);
        Vacancy reader = forTam(vacancy, Action.HISTORY);
        RestorePlan plan = vacancy.history().planRestore(gone, TAM);

        assertThat(nothing.history().runs(HistoryQuery.all())).isEmpty();
        assertThat(reader.history().runs(HistoryQuery.all()))
                .extracting(TrailRun::table)
                .containsOnly("hive");
        assertThat(reader.history().entries(HistoryQuery.all()))
                .extracting(TrailEntry::table)
                .containsOnly("hive");
        reader.history()
                .forEach(HistoryQuery.all(), entry -> assertThat(entry.table()).isEqualTo("hive"));
        assertForbidden(() -> nothing.history().runs(HistoryQuery.all().ofTable("hive")));
        assertForbidden(() -> reader.history().entries(HistoryQuery.all().ofTable("READING")));
        assertForbidden(() -> nothing.history().deleted("hive", 10));
        assertForbidden(() -> reader.history().planRestore(gone, TAM));
        assertForbidden(() -> reader.history().restore(Approval.of(plan)));
        assertForbidden(() -> reader.history().restore(Approval.of(plan), 1, portion -> {}));
        assertForbidden(() -> reader.history().hold("hive", "hive_id = 2", TAM));
        assertForbidden(() -> reader.history().erase("hive", "1", TAM));
        assertForbidden(() -> reader.history().prune(Instant.now(), TAM));
        UUID hold = vacancy.history().hold("hive", "hive_id = 2", ODILE.because("a court asks"));
        assertForbidden(() -> reader.history().lift(hold, TAM));
        assertThat(reader.history().holds()).hasSize(1);
        assertThat(nothing.history().holds()).isEmpty();

        forTam(vacancy, Action.KEEP).history().lift(hold, TAM);
        var back = forTam(vacancy, Action.RESTORE).history().restore(Approval.of(plan));
        assertForbidden(() -> reader.history().undoing(back.runId()));
        assertThat(database.count("reading")).isEqualTo(2);
        assertThat(reader.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void bulkRunsAreSteeredByThoseWhoMay(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        Vacancy tam = forTam(vacancy, Action.PREVIEW, Action.DELETE, Action.DELETE_SEVERAL);
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        Plan plan = tam.plan(Selection.of("hive").keys(List.of(1, 2)), TAM);
        BulkRun run = tam.bulk().start(Approval.inChunks(plan), BulkOptions.defaults());
        Vacancy other = forTam(vacancy, Action.PREVIEW, Action.DELETE);

        assertThat(other.bulk().list()).isEmpty();
        assertForbidden(() -> other.bulk().run(run.runId()));
        assertForbidden(() -> other.bulk().pause(run.runId()));
        assertForbidden(() -> other.bulk().resume(run.runId()));
        assertForbidden(() -> other.bulk().cancel(run.runId()));
        assertForbidden(() -> other.bulk().failures(run.runId(), 10));
        assertForbidden(() -> other.bulk().work(run.runId(), BulkOptions.defaults(), Exemption.none(), each -> {}));

        assertThat(tam.bulk().list()).hasSize(1);
        assertThat(tam.bulk()
                        .work(run.runId(), BulkOptions.defaults(), Exemption.none(), each -> {})
                        .done())
                .isEqualTo(2);
    }

    /** Whoever compares a column with a value of their own finds it equal, whether the record is there or only in the trail. */
    @OnEveryEngine
    void aRecordIsToldInTheSameTypesBeforeAndAfterItIsGone(Engine engine) {
        String moment = engine == Engine.MARIADB ? "datetime" : "timestamp";
        Database database = engine.database()
                .run(
                        "create table stay (stay_id integer primary key, berth integer, number bigint, fee decimal(9, 2),"
                                + " metres double precision, paid boolean, until_day date, left_at " + moment
                                + ", words varchar(20))",
                        "insert into stay values (1, 4, 5, 12.50, 0.5, true, '2026-05-01', '2026-05-01 08:30:00', 'short')");
        RuleBook rules = RuleBook.bySchema().trail(Trail.defaults());
        Ddl.of(database.source(), rules).apply();
        Map<Permissions.Action, Map<String, Object>> seen = new EnumMap<>(Permissions.Action.class);
        Permissions everything = (by, act, table) -> true;
        By una = By.user("una");
        Vacancy forUna = Vacancy.over(database.source(), rules)
                .actingFor(una, everything.ofRecords((by, act, table, values) -> {
                    seen.put(act, values);
                    return true;
                }));

        UUID run = forUna.delete(Selection.of("stay").key(1), una).runId();
        forUna.history().entries(HistoryQuery.all().ofRecord("stay", "1"));
        forUna.history().restore(Approval.of(forUna.history().planRestore(run, una)));

        Map<String, Object> there = seen.get(Permissions.Action.DELETE);
        assertThat(there)
                .containsOnlyKeys(
                        "stay_id", "berth", "number", "fee", "metres", "paid", "until_day", "left_at", "words");
        assertThat(seen.get(Permissions.Action.HISTORY)).isEqualTo(there);
        assertThat(seen.get(Permissions.Action.RESTORE)).isEqualTo(there);
    }
}
