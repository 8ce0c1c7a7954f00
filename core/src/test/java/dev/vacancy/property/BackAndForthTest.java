package dev.vacancy.property;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.UUID;

/**
 * Random deletions, soft and hard ones among them, each undone again sooner or later: whatever stood before a run stands there
 * again after its restore.
 */
class BackAndForthTest {
    private static final By ODILE = By.user("odile");
    private static final String[] TABLES = {"keeper", "hive", "inspection", "photo"};

    private static final RuleBook BOOK = RuleBook.bySchema()
            .marker("keeper", Marker.timestamp("left_at"))
            .soft("keeper")
            .marker("hive", Marker.flag("state", "kept", "gone"))
            .soft("hive")
            .on("inspection.keeper_id", Clause.detach().where("inspection_id < 1005"), Clause.reassign(5))
            .on("photo.hive_id", Clause.cascade())
            .trail(Trail.defaults());

    private record Done(UUID run, List<String> before) {}

    @OnEveryEngine
    void whateverGoesComesBackInTurn(Engine engine) {
        Database database = engine.database();
        Random random = new Random(Seed.next());
        Hives.fill(database, random);
        Ddl.of(database.source(), BOOK).apply();
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        Deque<Done> done = new ArrayDeque<>();
        int deletions = 0;
        for (int turn = 0; turn < 60 || !done.isEmpty(); turn++) {
            boolean back = !done.isEmpty() && (turn >= 60 || random.nextInt(3) == 0);
            if (back) {
                Done last = done.pop();
                RestorePlan plan = vacancy.history().planRestore(last.run(), ODILE);
                assertThat(plan.conflicts()).isEmpty();
                assertThat(plan.left()).isEmpty();
                vacancy.history().restore(Approval.of(plan));
                assertThat(database.contents(TABLES)).isEqualTo(last.before());
            } else {
                List<String> before = database.contents(TABLES);
                Plan plan = vacancy.plan(selection(random), ODILE);
                if (!plan.isEmpty() && !plan.isBlocked()) {
                    done.push(new Done(vacancy.run(Approval.of(plan)).runId(), before));
                    assertThat(database.contents(TABLES)).isNotEqualTo(before);
                    deletions++;
                }
            }
        }
        assertThat(deletions).isGreaterThan(5);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    private static Selection selection(Random random) {
        int kind = random.nextInt(4);
        // Keeper 5 takes over what others leave, and stays.
        Selection selection = switch (kind) {
            case 0 -> Selection.of("keeper").key(1 + random.nextInt(Hives.KEEPERS - 1));
            case 1 ->
                Selection.of("hive").keys(List.of(10 + random.nextInt(Hives.HIVES), 10 + random.nextInt(Hives.HIVES)));
            case 2 -> Selection.of("inspection").key(1_000 + random.nextInt(Hives.INSPECTIONS));
            default -> Selection.of("photo").key(100 + random.nextInt(Hives.HIVES));
        };
        return random.nextBoolean() ? selection.hard() : selection;
    }
}
