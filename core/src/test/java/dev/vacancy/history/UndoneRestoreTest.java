package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/** A restore can be undone, and the rest of a run still comes back after a part of it has. */
class UndoneRestoreTest {
    private static final By ODILE = By.user("odile").because("colony lost");
    private static final By UNA = By.user("una").because("it was another hive");
    private static final RuleBook BOOK =
            RuleBook.bySchema().trail(Trail.defaults()).on("queen.mother_id", Clause.detach());
    private static final String[] TABLES = {"queen", "egg"};

    /** Queens whose daughters stay when they go, and eggs that go with them. */
    private static Database queens(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table queen (queen_id integer primary key, mother_id integer, left_on date, foreign key"
                                + " (mother_id) references queen (queen_id))",
                        "create table egg (egg_id integer primary key, queen_id integer not null, foreign key (queen_id)"
                                + " references queen (queen_id) on delete cascade)",
                        "insert into queen values (1, null, null)",
                        "insert into queen values (2, 1, null)",
                        "insert into queen values (3, 2, null)",
                        "insert into egg values (10, 1), (11, 1), (20, 2), (30, 3)");
        Ddl.of(database.source(), BOOK).apply();
        return database;
    }

    private static Outcome delete(Vacancy vacancy, Selection selection) {
        return vacancy.run(Approval.of(vacancy.plan(selection, ODILE)));
    }

    private static RestoreOutcome restore(Vacancy vacancy, UUID run) {
        return vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, UNA)));
    }

    @OnEveryEngine
    void whatARestoreBroughtBackIsPlannedAskedAboutAndDeletedAgain(Engine engine) {
        Database database = queens(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        Outcome gone = delete(vacancy, Selection.of("queen").key(1));
        List<String> after = database.contents(TABLES);
        RestoreOutcome back = restore(vacancy, gone.runId());

        Plan again = vacancy.plan(vacancy.history().undoing(back.runId()), UNA);
        Outcome outcome = vacancy.run(Approval.of(again));

        assertThat(again.counts()).containsOnly(Map.entry("queen", 1L), Map.entry("egg", 2L));
        assertThat(database.contents(TABLES))
                .as("the daughter, whose link was put back, stays")
                .isEqualTo(after);
        restore(vacancy, outcome.runId());
        assertThat(database.count("egg")).isEqualTo(4);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void whatWentForGoodGoesForGoodAgainAndWhatWasMarkedIsMarked(Engine engine) {
        Database database = queens(engine);
        RuleBook soft =
                BOOK.marker("queen", Marker.endDate("left_on")).soft("queen").on("egg.queen_id", Clause.cascade());
        Vacancy vacancy = Vacancy.over(database.source(), soft);
        RestoreOutcome ofMarked =
                restore(vacancy, delete(vacancy, Selection.of("queen").key(3)).runId());
        RestoreOutcome ofDeleted = restore(
                vacancy, delete(vacancy, Selection.of("queen").key(1).hard()).runId());

        Plan marking = vacancy.plan(vacancy.history().undoing(ofMarked.runId()), UNA);
        Plan deleting = vacancy.plan(vacancy.history().undoing(ofDeleted.runId()), UNA);

        assertThat(marking.marked()).containsExactly("queen");
        assertThat(deleting.marked()).isEmpty();
        assertThat(deleting.counts()).containsEntry("queen", 1L);
    }

    @OnEveryEngine
    void theRestOfARunComesBackAfterAPartOfIt(Engine engine) {
        Database database = queens(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        List<String> before = database.contents(TABLES);
        Outcome gone = delete(vacancy, Selection.of("queen").keys(List.of(1, 3)));
        RestorePlan part = vacancy.history().planRestore(gone.runId(), "queen", "3", UNA);
        RestoreOutcome back = vacancy.history().restore(Approval.of(part));

        RestorePlan rest = vacancy.history().planRestore(gone.runId(), UNA);
        vacancy.history().restore(Approval.of(rest));

        assertThat(part.counts()).containsOnly(Map.entry("queen", 1L), Map.entry("egg", 1L));
        assertThat(rest.left()).containsExactly("2 records were brought back before.");
        assertThat(rest.counts()).containsOnly(Map.entry("queen", 1L), Map.entry("egg", 2L));
        assertThat(database.contents(TABLES)).isEqualTo(before);
        assertThat(vacancy.plan(vacancy.history().undoing(back.runId()), UNA).counts())
                .containsOnly(Map.entry("queen", 1L), Map.entry("egg", 1L));
    }

    @OnEveryEngine
    void aPartWhoseParentStaysAwayIsAConflictThatIsTold(Engine engine) {
        Database database = queens(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        Outcome gone = delete(vacancy, Selection.of("queen").keys(List.of(1, 2)));

        RestorePlan part = vacancy.history().planRestore(gone.runId(), "queen", "2", UNA);

        assertThat(part.conflicts()).singleElement().satisfies(conflict -> {
            assertThat(conflict.reason()).isEqualTo("its queen 1 (queen.mother_id) isn't there");
            assertThat(conflict.remedy()).isEqualTo("Restore queen 1 first.");
        });
    }

    @OnEveryEngine
    void whatIsNoRestoreOrLeftNothingIsRefused(Engine engine) {
        Database database = queens(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        Outcome gone = delete(vacancy, Selection.of("queen").key(1));
        RestoreOutcome back = restore(vacancy, gone.runId());
        delete(vacancy, Selection.of("queen").key(1));

        assertThatThrownBy(() -> vacancy.history().undoing(gone.runId()))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("is no restore but a deletion");
        assertThatThrownBy(() -> vacancy.history().undoing(back.runId()))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("is there any more");
        assertThatThrownBy(() -> vacancy.history().planRestore(back.runId(), UNA))
                .hasMessageContaining("is no deletion but a restore")
                .hasMessageContaining("History.undoing");
        assertThatThrownBy(() -> vacancy.history().planRestore(UUID.randomUUID(), UNA))
                .hasMessageContaining("The audit trail has no run");
    }
}
