package dev.vacancy.property;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.property.Larkmoor.Change;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.UUID;

/**
 * Random deletions and restores in any order, with records that the application adds in between: after each, the database holds
 * what a plain model says, and what stands in the way of a restore stands in the model's way too.
 */
class OutOfTurnTest {
    private static final By ODILE = By.user("odile");
    private static final int TURNS = Integer.getInteger("vacancy.test.turns", 40);
    private static final Map<String, String> CONTENTS = Map.of(
            "keeper", "keeper_id, case when left_at is null then 0 else 1 end as gone",
            "hive", "hive_id, keeper_id, mother_id, case when state = 'gone' then 1 else 0 end as gone",
            "inspection", "inspection_id, hive_id, keeper_id",
            "photo", "photo_id, hive_id",
            "stay", "keeper_id, since, apiary_no");

    private static final RuleBook BOOK = RuleBook.bySchema()
            .marker("keeper", Marker.timestamp("left_at"))
            .soft("keeper")
            .marker("hive", Marker.flag("state", "kept", "gone"))
            .soft("hive")
            .marker("stay", Marker.latestRow("since", "apiary_no", "keeper_id"))
            .soft("stay")
            .on("stay.keeper_id", Clause.cascade())
            .on(
                    "inspection.keeper_id",
                    Clause.detach().where("inspection_id < " + Larkmoor.TAKEN_OVER),
                    Clause.reassign(Larkmoor.SUCCESSOR))
            .on("photo.hive_id", Clause.cascade())
            .trail(Trail.defaults());

    private record Done(UUID run, List<Change> changes, int turn) {}

    private final Calendar calendar = new Calendar();
    private final List<Done> done = new ArrayList<>();
    private int deletions;
    private int restores;

    @OnEveryEngine
    void whateverTheOrderTheDatabaseHoldsWhatThePlainModelSays(Engine engine) {
        Random random = new Random(Seed.next());
        Database database = engine.database();
        fill(database, random);
        Larkmoor model = read(database);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK, calendar);

        for (int turn = 0; turn < TURNS; turn++) {
            calendar.turn();
            switch (done.isEmpty() ? 9 : random.nextInt(10)) {
                case 0, 1, 2, 3 -> restore(vacancy, model, done.get(random.nextInt(done.size())));
                case 4, 5 -> addStay(database, model, random);
                case 6 -> addPhoto(database, model, random);
                default -> delete(vacancy, model, random);
            }
            assertThat(read(database)).hasToString(model.toString());
        }
        restoreWhatCanComeBack(vacancy, model);

        assertThat(read(database)).hasToString(model.toString());
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
        assertThat(List.of(deletions, restores)).allMatch(count -> count > 5);
    }

    private void delete(Vacancy vacancy, Larkmoor model, Random random) {
        boolean hard = random.nextInt(3) == 0;
        String table = List.of("keeper", "hive", "inspection", "photo", hard ? "hive" : "stay")
                .get(random.nextInt(5));
        List<String> candidates = model.rows(table).keySet().stream()
                .filter(key -> !table.equals("keeper") || !key.equals("" + Larkmoor.SUCCESSOR))
                .toList();
        if (candidates.isEmpty()) {
            return;
        }
        Set<String> keys = new TreeSet<>();
        for (int i = 0; i < (table.equals("hive") ? 2 : 1); i++) {
            keys.add(candidates.get(random.nextInt(candidates.size())));
        }
        Selection selection = table.equals("stay")
                ? Selection.of(table).key((Object[]) keys.iterator().next().split(","))
                : Selection.of(table).keys(keys.stream().map(Integer::valueOf).toList());
        Plan plan = vacancy.plan(hard ? selection.hard() : selection, ODILE);
        List<Change> changes = model.delete(table, keys, hard, calendar.today());
        assertThat(plan.isEmpty()).isEqualTo(changes.isEmpty());
        if (!plan.isEmpty()) {
            deletions++;
            model.remember(changes, deletions);
            done.add(new Done(vacancy.run(Approval.of(plan)).runId(), changes, deletions));
        }
    }

    /** Returns true unless something stands in the way. */
    private boolean restore(Vacancy vacancy, Larkmoor model, Done what) {
        RestorePlan plan = vacancy.history().planRestore(what.run(), ODILE);
        assertThat(!plan.conflicts().isEmpty())
                .as(plan.conflicts().toString())
                .isEqualTo(model.hinders(what.changes(), what.turn()));
        if (!plan.conflicts().isEmpty()) {
            return false;
        }
        int back = model.takeBack(what.changes());
        assertThat(plan.left()).hasSize(what.changes().size() - back);
        if (!plan.isEmpty()) {
            vacancy.history().restore(Approval.of(plan));
            restores++;
        }
        done.remove(what);
        return true;
    }

    private void restoreWhatCanComeBack(Vacancy vacancy, Larkmoor model) {
        boolean progress = true;
        while (progress) {
            progress = false;
            for (Done what : List.copyOf(done)) {
                progress |= restore(vacancy, model, what);
            }
        }
    }

    /** A keeper comes, or comes back. */
    private void addStay(Database database, Larkmoor model, Random random) {
        String keeper = String.valueOf(1 + random.nextInt(Hives.KEEPERS - 1));
        if (model.rows("keeper").containsKey(keeper)) {
            database.run("insert into stay values (" + keeper + ", '" + calendar.today() + "', 7)");
            model.put("stay", keeper + "," + calendar.today(), row("keeper_id", keeper, "apiary_no", "7"));
        }
    }

    /** The number of a photo that is gone may be given to another one. */
    private void addPhoto(Database database, Larkmoor model, Random random) {
        String photo = String.valueOf(100 + random.nextInt(Hives.HIVES));
        Optional<String> hive = model.rows("hive").keySet().stream().findFirst();
        if (hive.isPresent() && !model.rows("photo").containsKey(photo)) {
            database.run("insert into photo values (" + photo + ", " + hive.get() + ")");
            model.put("photo", photo, row("hive_id", hive.get()));
        }
    }

    private static Map<String, String> row(String... columnsAndValues) {
        Map<String, String> row = new LinkedHashMap<>();
        for (int i = 0; i < columnsAndValues.length; i += 2) {
            row.put(columnsAndValues[i], columnsAndValues[i + 1]);
        }
        return row;
    }

    private static Larkmoor read(Database database) {
        Larkmoor read = new Larkmoor();
        CONTENTS.forEach((table, columns) -> {
            List<String> names =
                    List.of(columns.replaceAll("case [^,]* as ", "").split(", "));
            for (String line : database.rows("select " + columns + " from " + table)) {
                List<String> values = List.of(line.split("\\|"));
                Map<String, String> row = new LinkedHashMap<>();
                for (int i = 0; i < names.size(); i++) {
                    row.put(names.get(i), values.get(i).equals("null") ? null : values.get(i));
                }
                String key = table.equals("stay")
                        ? row.get("keeper_id") + "," + row.remove("since")
                        : row.remove(names.get(0));
                read.put(table, key, row);
            }
        });
        return read;
    }

    private static void fill(Database database, Random random) {
        Hives.fill(database, random);
        database.run("create table stay (keeper_id integer not null, since date not null, apiary_no integer,"
                + " primary key (keeper_id, since), foreign key (keeper_id) references keeper (keeper_id))");
        for (int i = 1; i <= Hives.KEEPERS; i++) {
            String apiary = random.nextInt(4) == 0 ? "null" : "8";
            database.run(
                    "insert into stay values (" + i + ", '2024-05-01', 7)",
                    "insert into stay values (" + i + ", '2025-05-01', " + apiary + ")");
        }
        Ddl.of(database.source(), BOOK).apply();
    }

    /** Each turn is another day, so that rows that follow each other have days of their own. */
    private static final class Calendar extends Clock {
        private Instant now = Instant.parse("2026-03-01T08:00:00Z");

        void turn() {
            now = now.plusSeconds(24 * 60 * 60);
        }

        String today() {
            return LocalDate.ofInstant(now, ZoneOffset.UTC).toString();
        }

        @Override
        public Instant instant() {
            return now;
        }

        @Override
        public ZoneId getZone() {
            return ZoneOffset.UTC;
        }

        @Override
        public Clock withZone(ZoneId zone) {
            return Clock.fixed(now, zone);
        }
    }
}
