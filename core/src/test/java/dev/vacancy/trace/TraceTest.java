package dev.vacancy.trace;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.BlockedException;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.NotAsPlannedException;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.TraceRule;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/** What is known of a person is found, told, and erased by one answer; a second look proves it. */
class TraceTest {
    private static final RuleBook GOES = Moorland.book(Moorland.GOES);
    private static final RuleBook STAYS = Moorland.book(Moorland.STAYS);

    private static List<String> parts(Trace trace) {
        return trace.parts().stream()
                .map(part -> part.relation() + " | " + part.where() + " | " + part.count() + " | " + part.treatment())
                .toList();
    }

    @OnEveryEngine
    void whatIsKnownIsFound(Engine engine) {
        Vacancy vacancy = Moorland.vacancy(Moorland.on(engine, GOES), GOES);

        Trace trace = vacancy.trace("keeper", 1);

        assertThat(trace.isThere()).isTrue();
        assertThat(trace.key()).isEqualTo("1");
        assertThat(trace.label()).contains("Orla Fenwick");
        assertThat(parts(trace))
                .containsExactlyInAnyOrder(
                        "record | keeper | 1 | deleted",
                        "belongs to it | hive.keeper_id | 2 | deleted",
                        "belongs to it | inspection.hive_id | 1 | deleted",
                        "belongs to it | payment.keeper_id | 1 | deleted",
                        "mentions it | inspection.keeper_id | 1 | detached",
                        "mentions it | photo.keeper_no | 1 | detached",
                        "text | inspection.note | 2 | masked",
                        "text | photo.caption | 1 | masked",
                        "text | newsletter.body | 1 | kept");
        assertThat(trace.tree())
                .startsWith("keeper 1 'Orla Fenwick'\n├─ the record itself        1  deleted\n")
                .contains("hive.keeper_id", "│  └─ inspection.hive_id", "kept, it was printed: 7");
        assertThat(trace.total()).isEqualTo(10);
        assertThat(vacancy.trace("keeper", 3).isEmpty()).isTrue();
        assertThat(vacancy.trace("keeper", 3).tree()).isEqualTo("keeper 3: nothing is known");
    }

    @OnEveryEngine
    void theTrailIsPartOfIt(Engine engine) {
        Database database = Moorland.on(engine, GOES);
        Vacancy vacancy = Moorland.vacancy(database, GOES);
        vacancy.delete(Selection.of("hive").key(11), Moorland.ODILE);
        vacancy.delete(Selection.of("inspection").key(102), By.user("tam").because("as Orla Fenwick asked"));
        UUID marked =
                vacancy.delete(Selection.of("keeper").key(1), Moorland.ODILE).runId();
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(marked, Moorland.ODILE)));

        Trace trace = vacancy.trace("keeper", 1);

        assertThat(parts(trace))
                .contains(
                        // Once it went alone, and once with the keeper.
                        "audit trail | hive | 2 | erased",
                        "audit trail | keeper | 1 | erased",
                        "audit trail | inspection | 1 | masked",
                        "words of runs | inspection | 1 | masked")
                .doesNotContain("audit trail | payment | 1 | erased");
    }

    @OnEveryEngine
    void allOfItGoesByOneAnswer(Engine engine) {
        Database database = Moorland.on(engine, GOES);
        Vacancy vacancy = Moorland.vacancy(database, GOES);
        vacancy.delete(Selection.of("hive").key(11), By.user("tam").because("told Orla Fenwick"));
        vacancy.delete(Selection.of("inspection").key(102), Moorland.ODILE);
        BulkRun bulk = vacancy.bulk()
                .start(
                        Approval.inChunks(vacancy.plan(
                                Selection.of("photo")
                                        .where(Criteria.parse("photo_id = 500 and caption like 'Orla Fenwick%'")),
                                Moorland.ODILE)),
                        BulkOptions.defaults());
        vacancy.bulk().work(bulk.runId());
        TracePlan plan = vacancy.plan(vacancy.trace("keeper", 1), Moorland.ODILE);
        Question question = Question.about(plan);
        assertThat(question.text())
                .startsWith("Erase all that is known of keeper 1: ")
                .endsWith(" records, entries and places? There is no way back.");

        TraceOutcome outcome = vacancy.eraseTrace(question.answer("yes").orElseThrow());

        assertThat(outcome.deleted()).isEqualTo(Map.of("keeper", 1L, "hive", 1L, "inspection", 1L, "payment", 1L));
        assertThat(outcome.masked()).containsEntry("inspection", 2L);
        assertThat(parts(outcome.left()))
                .containsExactly("text | newsletter.body | 1 | kept", "follow-ups | map | 4 | kept");
        assertThat(Moorland.everything(database).toLowerCase(Locale.ROOT))
                .doesNotContain("orla", "fenwick", "fellside", "01 234")
                .contains("tam birk", "calm; asked ************ to come again");
        assertThat(database.rows("select count(*) from inspection")).containsExactly("2");
        assertThat(database.rows("select keeper_id from inspection where inspection_id = 101"))
                .containsExactly("null");
        assertThat(vacancy.history().verify(Optional.empty()).isIntact()).isTrue();
        assertThat(vacancy.trace("keeper", 1).isEmpty()).isTrue();
        assertThat(parts(vacancy.trace("keeper", 2))).contains("belongs to it | hive.keeper_id | 1 | deleted");
    }

    @OnEveryEngine
    void aRecordThatHasToStayIsMasked(Engine engine) {
        Database database = Moorland.on(engine, STAYS);
        Vacancy vacancy = Moorland.vacancy(database, STAYS);
        vacancy.delete(Selection.of("keeper").key(1), Moorland.ODILE);
        Trace trace = vacancy.trace("keeper", 1);
        assertThat(trace.tree()).contains("the record itself", "masked, payments refer to it");

        TraceOutcome outcome = vacancy.eraseTrace(Question.about(vacancy.plan(trace, Moorland.ODILE))
                .answer("yes")
                .orElseThrow());

        assertThat(outcome.deleted()).doesNotContainKeys("keeper", "payment");
        assertThat(parts(outcome.left()))
                .containsExactly(
                        "record | keeper | 1 | kept",
                        "mentions it | payment.keeper_id | 1 | kept",
                        "follow-ups | map | 4 | kept");
        assertThat(outcome.left().parts().get(1).reason()).contains("the tax office asks for it for ten years");
        assertThat(database.rows("select phone from keeper where keeper_id = 1"))
                .containsExactly("null");
        assertThat(database.rows("select name from keeper where keeper_id = 1").get(0))
                .startsWith("*** ");
        assertThat(database.rows("select keeper_id from payment where payment_id = 1000"))
                .containsExactly("1");
        assertThat(database.rows("select count(*) from hive where keeper_id = 1"))
                .containsExactly("0");
        assertThat(Moorland.everything(database).toLowerCase(Locale.ROOT))
                .doesNotContain("orla", "fenwick", "fellside", "01 234");
        assertThat(vacancy.history().verify(Optional.empty()).isIntact()).isTrue();
    }

    @OnEveryEngine
    void whoeverIsGoneIsForgottenToo(Engine engine) {
        Database database = Moorland.on(engine, GOES);
        database.run("delete from payment");
        Vacancy vacancy = Moorland.vacancy(database, GOES);
        vacancy.delete(Selection.of("keeper").key(1).hard(), Moorland.ODILE);
        Trace trace = vacancy.trace("keeper", 1);
        assertThat(trace.isThere()).isFalse();
        assertThat(parts(trace)).contains("audit trail | keeper | 1 | erased", "text | inspection.note | 2 | masked");

        TraceOutcome outcome = vacancy.eraseTrace(Approval.of(vacancy.plan(trace, Moorland.ODILE)));

        assertThat(outcome.deleted()).isEmpty();
        assertThat(outcome.entries()).isPositive();
        assertThat(Moorland.everything(database).toLowerCase(Locale.ROOT))
                .doesNotContain("orla", "fenwick", "fellside", "01 234");
        assertThat(vacancy.history().verify(Optional.empty()).isIntact()).isTrue();
    }

    @OnEveryEngine
    void whatHasChangedSinceIsAnotherPlan(Engine engine) {
        Database database = Moorland.on(engine, GOES);
        Vacancy vacancy = Moorland.vacancy(database, GOES);
        Approval approval = Approval.of(vacancy.plan(vacancy.trace("keeper", 1), Moorland.ODILE));
        database.run("update inspection set note = 'Orla Fenwick again' where inspection_id = 103");

        assertThatThrownBy(() -> vacancy.eraseTrace(approval))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining("3 instead of 2: inspection.note, text, masked");
        assertThat(database.rows("select name from keeper where keeper_id = 1")).containsExactly("Orla Fenwick");
    }

    @OnEveryEngine
    void whatForbidsItIsTold(Engine engine) {
        RuleBook book = Moorland.book(TraceRule.knownBy("name").masking("inspection.note"));
        Database database = Moorland.on(engine, book);
        Vacancy vacancy = Moorland.vacancy(database, book);
        Trace trace = vacancy.trace("keeper", 1);
        assertThat(parts(trace)).contains("mentions it | payment.keeper_id | 1 | forbids it");
        assertThatThrownBy(() -> Question.about(vacancy.plan(trace, Moorland.ODILE)))
                .isInstanceOf(BlockedException.class)
                .hasMessageContaining("payment");

        RuleBook goes = Moorland.book(Moorland.GOES);
        Vacancy other = Moorland.vacancy(database, goes);
        Approval approval = Approval.of(other.plan(other.trace("keeper", 1), Moorland.ODILE));
        other.history().hold("inspection", "inspection_id = 102", By.user("una").because("the inspector asks"));
        assertThatThrownBy(() -> other.eraseTrace(approval))
                .isInstanceOfAny(InvalidRequestException.class, StalePlanException.class);
        assertThatThrownBy(() -> Approval.of(other.plan(other.trace("keeper", 1), Moorland.ODILE)))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("held by una: the inspector asks");
    }

    @OnEveryEngine
    void aSecondLookFindsWhatATriggerWrites(Engine engine) throws SQLException {
        Database database = Moorland.on(engine, GOES);
        Vacancy vacancy = Moorland.vacancy(database, GOES);
        Approval approval = Approval.of(vacancy.plan(vacancy.trace("keeper", 1), Moorland.ODILE));
        Triggers.keepTheOldNote(database, engine);

        assertThatThrownBy(() -> vacancy.eraseTrace(approval))
                .isInstanceOf(NotAsPlannedException.class)
                .hasMessageContaining("inspection.note");
        assertThat(database.rows("select name from keeper where keeper_id = 1")).containsExactly("Orla Fenwick");
        assertThat(database.rows("select count(*) from vacancy_trail_entry")).containsExactly("0");
    }

    @OnEveryEngine
    void aCopyIsHandedOut(Engine engine) {
        Database database = Moorland.on(engine, GOES);
        Vacancy vacancy = Moorland.vacancy(database, GOES);
        vacancy.delete(Selection.of("hive").key(11), Moorland.ODILE);
        List<String> handedOut = new ArrayList<>();

        vacancy.export(
                vacancy.trace("keeper", 1),
                record -> handedOut.add(record.relation() + " " + record.table() + " "
                        + record.key().orElse("-") + " " + record.values() + " "
                        + record.run().isPresent()));

        assertThat(handedOut)
                .hasSize(11)
                .contains(
                        "belongs to it hive 10 {hive_id=10, keeper_id=1, name=Fellside One} false",
                        "belongs to it payment 1000 {payment_id=1000, keeper_id=1, pounds=20} false",
                        // Another's inspection is the other's; that it names the keeper is theirs.
                        "mentions it inspection 101 {inspection_id=101, keeper_id=1} false",
                        "mentions it photo 500 {photo_id=500, keeper_no=1} false",
                        "text inspection 102 {note=wrote to orla@larkmoor.example about it} false",
                        "audit trail hive 11 {hive_id=11, keeper_id=1, name=Fellside Two} true");
        assertThat(handedOut.get(0)).startsWith("record keeper 1 {").contains("phone=01 234");
    }

    @OnEveryEngine
    void theReasonMustNotSayIt(Engine engine) {
        Vacancy vacancy = Moorland.vacancy(Moorland.on(engine, GOES), GOES);

        assertThatThrownBy(() -> vacancy.plan(
                        vacancy.trace("keeper", 1), By.user("odile").because("Orla Fenwick wrote to us")))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("has the very text");
    }

    @OnEveryEngine
    void namesakesAndShortNamesAreTold(Engine engine) {
        Database database = Moorland.on(engine, GOES);
        database.run("insert into keeper values (3, 'Orla Fenwick', 'of@larkmoor.example', null, null),"
                + " (4, 'Bo', 'bo@larkmoor.example', null, null)");
        Vacancy vacancy = Moorland.vacancy(database, GOES);

        assertThat(vacancy.trace("keeper", 1).warnings())
                .containsExactly(
                        "The follow-up 'map' is told of 2 records of hive.",
                        "Another keeper, 3, has the same name: where it stands, either may be meant.");
        assertThat(vacancy.trace("keeper", 4).warnings())
                .containsExactly("'Bo' isn't looked for: it would be found in words of any kind.");
    }

    @OnEveryEngine
    void withoutATrailItCanBeFoundAndNotErased(Engine engine) {
        RuleBook book = RuleBook.bySchema()
                .trace("keeper", TraceRule.knownBy("name").on("payment.keeper_id", Clause.cascade()));
        Vacancy vacancy = Moorland.vacancy(Moorland.on(engine, Moorland.book(Moorland.GOES)), book);

        Trace trace = vacancy.trace("keeper", 1);

        assertThat(parts(trace)).contains("belongs to it | hive.keeper_id | 2 | deleted");
        assertThatThrownBy(() -> vacancy.plan(trace, Moorland.ODILE))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("keep no audit trail");
    }
}
