package dev.vacancy.property;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Ddl;
import dev.vacancy.Vacancy;
import dev.vacancy.audit.RestoreApproval;
import dev.vacancy.audit.RestorePlan;
import dev.vacancy.confirm.Approval;
import dev.vacancy.criteria.Selection;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Plan;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.util.ArrayDeque;
import java.util.ArrayList;
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
    private static final int KEEPERS = 5;
    private static final int HIVES = 9;
    private static final int INSPECTIONS = 14;

    private static final RuleBook BOOK = RuleBook.bySchema()
            .marker("keeper", Marker.instant("left_at"))
            .soft("keeper")
            .marker("hive", Marker.flag("state", "kept", "gone"))
            .soft("hive")
            .on("inspection.keeper_id", Clause.detach().when("inspection_id < 1005"), Clause.reassign(5))
            .on("photo.hive_id", Clause.cascade())
            .trail(Trail.usual());

    private record Done(UUID run, List<String> before) {}

    @OnEveryEngine
    void whateverGoesComesBackInTurn(Engine engine) {
        Database database = engine.database();
        Random random = new Random(Seed.next());
        fill(database, random);
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
                vacancy.history().restore(RestoreApproval.of(plan));
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
            case 0 -> Selection.of("keeper").key(1 + random.nextInt(KEEPERS - 1));
            case 1 -> Selection.of("hive").keys(List.of(10 + random.nextInt(HIVES), 10 + random.nextInt(HIVES)));
            case 2 -> Selection.of("inspection").key(1_000 + random.nextInt(INSPECTIONS));
            default -> Selection.of("photo").key(100 + random.nextInt(HIVES));
        };
        return random.nextBoolean() ? selection.forGood() : selection;
    }

    private static void fill(Database database, Random random) {
        database.run(
                "create table keeper (keeper_id integer primary key, left_at timestamp null)",
                "create table hive (hive_id integer primary key, keeper_id integer, mother_id integer, state varchar(9) not null,"
                        + " foreign key (keeper_id) references keeper (keeper_id) on delete cascade,"
                        + " foreign key (mother_id) references hive (hive_id) on delete set null)",
                "create table inspection (inspection_id integer primary key, hive_id integer, keeper_id integer,"
                        + " foreign key (hive_id) references hive (hive_id) on delete cascade,"
                        + " foreign key (keeper_id) references keeper (keeper_id))",
                "create table photo (photo_id integer primary key, hive_id integer not null,"
                        + " foreign key (hive_id) references hive (hive_id))");
        List<String> rows = new ArrayList<>();
        for (int i = 1; i <= KEEPERS; i++) {
            rows.add("insert into keeper values (" + i + ", null)");
        }
        for (int i = 0; i < HIVES; i++) {
            rows.add("insert into hive values (" + (10 + i) + ", " + (1 + random.nextInt(KEEPERS)) + ", "
                    + (i == 0 ? "null" : 10 + random.nextInt(i)) + ", '" + (random.nextInt(4) == 0 ? "gone" : "kept")
                    + "')");
            rows.add("insert into photo values (" + (100 + i) + ", " + (10 + random.nextInt(i + 1)) + ")");
        }
        for (int i = 0; i < INSPECTIONS; i++) {
            rows.add("insert into inspection values (" + (1_000 + i) + ", " + (10 + random.nextInt(HIVES)) + ", "
                    + (1 + random.nextInt(KEEPERS)) + ")");
        }
        database.run(rows.toArray(String[]::new));
        Ddl.of(database.source(), BOOK).apply();
    }
}
