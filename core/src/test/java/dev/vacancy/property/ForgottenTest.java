package dev.vacancy.property;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.history.TrailRun;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.TraceRule;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TraceOutcome;
import java.sql.SQLException;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * After whatever happened to a keeper, an erasure leaves no word of them in any table of ours, and a masking none where an erasure can't know
 * of it; what is told of everybody else stays, and the trail can be verified.
 */
class ForgottenTest {
    private static final RuleBook BOOK = RuleBook.bySchema().trail(Trail.defaults());
    private static final int CASES = 50;
    private static final int TOGETHER = 5;
    private static final int KEEPERS = 5;
    private static final int TURNS = 14;
    private static final List<String> OURS =
            List.of("vacancy_trail_run", "vacancy_trail_entry", "vacancy_bulk_run", "vacancy_bulk_record");

    @OnEveryEngine
    void nothingIsLeftOfWhoeverIsForgotten(Engine engine) throws SQLException {
        lives(engine, Life::forgets);
    }

    /** The same by one answer: records, what others have written, the trail and the words of runs. */
    @OnEveryEngine
    void nothingIsLeftOfWhoseTraceIsErased(Engine engine) throws SQLException {
        lives(engine, Life::losesEachTrace);
    }

    /** A few cases in one database have keepers of their own. */
    private static void lives(Engine engine, Consumer<Life> ending) throws SQLException {
        Random random = new Random(Seed.next());
        for (int number = 0; number < CASES; number += TOGETHER) {
            boolean natural = number % (2 * TOGETHER) == 0;
            Database database = keepers(engine, natural ? "varchar(40)" : "integer");
            TraceRule trace = natural ? TraceRule.knownBy("name", "keeper_no") : TraceRule.knownBy("name");
            // One connection for all of it: to open one each time would take most of the time.
            Vacancy vacancy =
                    Vacancy.over(Database.always(database.connect()), BOOK.trace("keeper", trace.masking("hive.note")));
            for (int i = 0; i < TOGETHER; i++) {
                ending.accept(new Life(database, vacancy, natural, number + i, random));
            }
        }
    }

    private static Database keepers(Engine engine, String key) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_no " + key + " not null primary key, name varchar(40))",
                        "create table hive (hive_no integer not null primary key, keeper_no " + key
                                + " not null, note varchar(80),"
                                + " foreign key (keeper_no) references keeper (keeper_no) on delete cascade)",
                        "create table visit (visit_no integer not null primary key, keeper_no " + key
                                + ", foreign key (keeper_no) references keeper (keeper_no) on delete set null)");
        Ddl.of(database.source(), BOOK).apply();
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        return database;
    }

    /** What happened to some keepers. */
    private static final class Life {
        private final Database database;
        private final Vacancy vacancy;
        private final boolean natural;
        private final int number;
        private final Random random;
        private final StringBuilder log = new StringBuilder();

        Life(Database database, Vacancy vacancy, boolean natural, int number, Random random) {
            this.database = database;
            this.vacancy = vacancy;
            this.natural = natural;
            this.number = number;
            this.random = random;
        }

        /** What stands nowhere else. */
        private String name(int keeper) {
            return "Qx" + number + "w" + keeper + "z";
        }

        private Object key(int keeper) {
            return natural ? name(keeper) : (Object) (number * 100 + keeper);
        }

        private String literal(int keeper) {
            return natural ? "'" + name(keeper) + "'" : String.valueOf(key(keeper));
        }

        private int hive(int keeper, int which) {
            return number * 1_000 + keeper * 10 + which;
        }

        private void insert(int keeper) {
            insert(keeper, "quiet");
        }

        private void insert(int keeper, String note) {
            database.run("insert into keeper values (" + literal(keeper) + ", 'Ms " + name(keeper) + "')");
            for (int i = 0; i < 2; i++) {
                database.run("insert into hive values (" + hive(keeper, i) + ", " + literal(keeper) + ", '"
                        + (i == 0 ? "of Ms " + name(keeper) : note) + "')");
            }
            database.run("delete from visit where visit_no = " + hive(keeper, 0));
            database.run("insert into visit values (" + hive(keeper, 0) + ", " + literal(keeper) + ")");
        }

        /** What others have written about a keeper stands in hives of theirs. */
        void losesEachTrace() {
            IntStream.range(0, KEEPERS)
                    .forEach(keeper -> insert(keeper, "shown to Ms " + name((keeper + 1) % KEEPERS)));
            for (int turn = 0; turn < TURNS; turn++) {
                turn(random.nextInt(KEEPERS));
            }
            lift();
            int forgotten = random.nextInt(KEEPERS);
            int another = (forgotten + 2) % KEEPERS;
            List<String> othersBefore = hivesOf(another);
            Trace trace = vacancy.trace("keeper", key(forgotten));
            log.append("known: ").append(trace.parts());

            TraceOutcome outcome = vacancy.eraseTrace(
                    Approval.of(vacancy.plan(trace, By.program("office").because("request 17"))));

            assertThat(outcome.left().parts()).as("%s", log).isEmpty();
            assertThat(where(name(forgotten))).as("%s", log).isEmpty();
            assertThat(String.join("\n", database.contents("keeper", "hive", "visit")))
                    .as("%s", log)
                    .doesNotContainIgnoringCase(name(forgotten));
            assertThat(hivesOf(another)).as("%s", log).isEqualTo(othersBefore);
            assertThat(vacancy.trace("keeper", key(forgotten)).parts())
                    .as("%s", log)
                    .isEmpty();
            assertThat(vacancy.history().verify(Optional.empty()).faults())
                    .as("%s", log)
                    .isEmpty();
        }

        private List<String> hivesOf(int keeper) {
            return database.rows("select * from hive where keeper_no = " + literal(keeper) + " order by hive_no");
        }

        void forgets() {
            IntStream.range(0, KEEPERS).forEach(this::insert);
            for (int turn = 0; turn < TURNS; turn++) {
                turn(random.nextInt(KEEPERS));
            }
            int forgotten = random.nextInt(KEEPERS);
            lift();
            Map<Integer, Long> told = told();
            erase(forgotten);
            String left = where(name(forgotten));
            vacancy.history().mask(name(forgotten), By.program("office"));

            assertThat(left)
                    .as("an erasure leaves reasons, and what others say of it: %s", log)
                    .doesNotContain("name\"");
            if (natural) {
                assertThat(left).as("its key: %s", log).doesNotContain("keeper_no");
            }
            assertThat(where(name(forgotten))).as("%s", log).isEmpty();
            told.remove(forgotten);
            Map<Integer, Long> now = told();
            now.remove(forgotten);
            assertThat(now).as("what is told of others: %s", log).isEqualTo(told);
            assertThat(vacancy.history().verify(Optional.empty()).faults())
                    .as("%s", log)
                    .isEmpty();
        }

        private void turn(int keeper) {
            By by = By.program("office");
            if (random.nextInt(3) == 0) {
                by = by.because("as Ms " + name(keeper).toUpperCase(Locale.ROOT) + " wished");
            }
            int what = random.nextInt(7);
            log.append(what).append(" of ").append(name(keeper)).append("; ");
            try {
                switch (what) {
                    case 0 -> vacancy.delete(Selection.of("keeper").key(key(keeper)), by);
                    case 1 ->
                        vacancy.delete(
                                Selection.of("keeper").where(Criteria.parse("name like '%" + name(keeper) + "'")), by);
                    case 2 -> inBulk(keeper, by);
                    case 3 -> vacancy.delete(Selection.of("hive").key(hive(keeper, random.nextInt(2))), by);
                    case 4 -> restore(by);
                    case 5 ->
                        vacancy.history().hold("keeper", "name = 'Ms " + name(keeper) + "'", by.because("a case"));
                    default -> {
                        if (database.rows("select 1 from keeper where keeper_no = " + literal(keeper))
                                        .isEmpty()
                                && database.rows("select 1 from hive where hive_no = " + hive(keeper, 0))
                                        .isEmpty()
                                && database.rows("select 1 from hive where hive_no = " + hive(keeper, 1))
                                        .isEmpty()) {
                            insert(keeper);
                        }
                    }
                }
            } catch (VacancyException refused) {
                log.append("(refused: ").append(refused.code()).append(") ");
            }
        }

        private void inBulk(int keeper, By by) {
            Selection named = Selection.of("keeper").where(Criteria.parse("name = 'Ms " + name(keeper) + "'"));
            BulkRun run = vacancy.bulk().start(Approval.inChunks(vacancy.plan(named, by)), BulkOptions.defaults());
            vacancy.bulk().work(run.runId(), BulkOptions.defaults(), Exemption.none(), progress -> {});
        }

        private void restore(By by) {
            List<TrailRun> runs = vacancy.history().runs(HistoryQuery.all().atMost(TURNS)).stream()
                    .filter(run -> run.kind().equals("deletion"))
                    .toList();
            if (!runs.isEmpty()) {
                TrailRun run = runs.get(random.nextInt(runs.size()));
                RestorePlan plan = vacancy.history().planRestore(run.partOf().orElse(run.runId()), by);
                vacancy.history().restore(Approval.of(plan));
            }
        }

        private void lift() {
            for (TrailRun hold : vacancy.history().holds()) {
                vacancy.history().lift(hold.runId(), By.program("office"));
            }
        }

        /** Whether it is there or gone. */
        private void erase(int keeper) {
            Selection one = Selection.of("keeper").key(key(keeper)).hard();
            var plan = vacancy.plan(one, By.program("office"));
            if (plan.isEmpty()) {
                vacancy.history().erase("keeper", String.valueOf(key(keeper)), By.program("office"));
            } else {
                vacancy.erase(Approval.ofErasing(plan));
            }
        }

        /** All rows of ours that have a text, by whatever name and in whatever case. */
        private String where(String text) {
            return database.contents(OURS.toArray(String[]::new)).stream()
                    .flatMap(table -> List.of(table.split("], \\[|, (?=\\d+\\|)")).stream())
                    .filter(row -> row.toLowerCase(Locale.ROOT).contains(text.toLowerCase(Locale.ROOT)))
                    .collect(Collectors.joining("\n"));
        }

        /** How often each is told of. */
        private Map<Integer, Long> told() {
            String all = String.join("\n", database.contents(OURS.toArray(String[]::new)))
                    .toLowerCase(Locale.ROOT);
            Map<Integer, Long> told = new TreeMap<>();
            for (int keeper = 0; keeper < KEEPERS; keeper++) {
                String name = name(keeper).toLowerCase(Locale.ROOT);
                told.put(keeper, Pattern.compile(name).matcher(all).results().count());
            }
            return told;
        }
    }
}
