package dev.vacancy.property;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.property.Estate.Entry;
import dev.vacancy.property.Estate.Item;
import dev.vacancy.property.Estate.Run;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.Period;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.UUID;

/**
 * Whatever comes between a deletion and its restore, in any order: holds, retentions, erasures, ageings, portions, keys that are long, padded or
 * of bytes, columns that come and go, and records that the application adds. After each turn the database holds what a plain model says, and what
 * is refused is refused by the model too. Since the tables have checks, each restore is tried before it is agreed to.
 */
class EverythingInTurnTest {
    private static final By ODILE = By.user("odile").because("a turn of hers");
    private static final int TURNS = Integer.getInteger("vacancy.test.turns", 60);
    private static final Instant START = Instant.parse("2026-03-01T08:00:00Z");
    private static final int DAYS_KEPT = 12;
    private static final RuleBook BOOK = RuleBook.bySchema()
            .marker("visitor", Marker.endDate("left_on"))
            .soft("visitor", SoftDelete.defaults().keptFor(Period.ofDays(DAYS_KEPT)))
            .trail(Trail.defaults());

    @OnEveryEngine
    void theDatabaseHoldsWhatThePlainModelSays(Engine engine) {
        Random random = new Random(Seed.next());
        Course course = new Course(engine, random);
        for (int turn = 0; turn < TURNS; turn++) {
            course.turn();
        }
        course.restoreAll();

        assertThat(course.vacancy.history().verify(Optional.empty()).faults()).isEmpty();
        assertThat(List.of(course.deletions, course.restores)).allMatch(count -> count > 3);
    }

    /** What happens on one database. */
    private static final class Course {
        private final Engine engine;
        private final Random random;
        private final Database database;
        private final Estate estate = new Estate();
        private final List<String> log = new ArrayList<>();
        private Instant now = START;
        private Vacancy vacancy;
        private int deletions;
        private int restores;

        Course(Engine engine, Random random) {
            this.engine = engine;
            this.random = random;
            String bytes = engine == Engine.POSTGRESQL ? "bytea" : engine == Engine.SQLITE ? "blob" : "varbinary(20)";
            this.database = engine.database()
                    .run(
                            "create table keeper (code varchar(740) not null primary key, name varchar(20) check (name <> ''))",
                            "create table hive (label char(5) not null, nr integer not null, name varchar(20),"
                                    + " code varchar(740) not null, primary key (label, nr),"
                                    + " foreign key (code) references keeper (code) on delete cascade)",
                            "create table photo (sha " + bytes
                                    + " not null primary key, name varchar(20), label char(5),"
                                    + " nr integer, foreign key (label, nr) references hive (label, nr) on delete set null)",
                            "create table visitor (visitor_id integer not null primary key, name varchar(20) check (name <> ''),"
                                    + " left_on date)");
            Ddl.of(database.source(), BOOK).apply();
            open();
            for (int i = 0; i < 12; i++) {
                add();
            }
        }

        private void open() {
            vacancy = Vacancy.over(database.source(), BOOK, Clock.fixed(now, ZoneOffset.UTC));
        }

        private String today() {
            return LocalDate.ofInstant(now, ZoneOffset.UTC).toString();
        }

        void turn() {
            now = now.plusSeconds(24 * 60 * 60);
            open();
            switch (random.nextInt(16)) {
                case 0, 1, 2, 3 -> delete();
                case 4, 5, 6 -> estate.anyRun(random).ifPresent(this::restore);
                case 7, 8 -> add();
                case 9 -> hold();
                case 10 -> lift();
                case 11 -> purge();
                case 12 -> erase();
                case 13 -> age();
                case 14 -> setExtra();
                default -> column();
            }
            assertThat(read()).as(log.toString()).isEqualTo(estate.rows());
        }

        /** Something new, often with the key of what is gone. */
        private void add() {
            Item item = estate.added(random);
            log.add("add " + item);
            database.run(item.insertion(engine));
        }

        private void delete() {
            Optional<Item> chosen = estate.any(random, item -> item.mark == null);
            if (chosen.isEmpty()) {
                return;
            }
            Item item = chosen.get();
            boolean hard = item.table.equals("visitor") && random.nextBoolean();
            log.add("delete " + item + (hard ? " for good" : ""));
            Selection selection =
                    Selection.of(item.table).where(Criteria.column("name").equalTo(item.name));
            Plan plan = vacancy.plan(hard ? selection.hard() : selection, ODILE);
            boolean held = estate.touchedBy(item).stream().anyMatch(each -> each.hold != null);
            assertThat(plan.isBlocked()).as(log.toString()).isEqualTo(held);
            if (!held) {
                UUID run = vacancy.run(Approval.of(plan)).runId();
                estate.delete(item, hard, run, now, today());
                deletions++;
            }
        }

        private void restore(Run run) {
            log.add("restore " + run);
            if (run.aged) {
                assertThatThrownBy(() -> vacancy.history().planRestore(run.id, ODILE))
                        .as(log.toString())
                        .isInstanceOf(InvalidRequestException.class);
                return;
            }
            RestorePlan plan = vacancy.history().planRestore(run.id, ODILE);
            assertThat(!plan.conflicts().isEmpty())
                    .as(log + " " + plan.conflicts())
                    .isEqualTo(estate.hinders(run));
            if (plan.conflicts().isEmpty() && !plan.isEmpty()) {
                if (random.nextBoolean()) {
                    vacancy.history().restore(Approval.of(plan));
                } else {
                    vacancy.history().restore(Approval.of(plan), 1, portion -> {});
                }
                restores++;
            }
            if (plan.conflicts().isEmpty()) {
                assertThat(estate.restore(run))
                        .as(log.toString())
                        .isEqualTo(plan.counts().values().stream()
                                        .mapToLong(n -> n)
                                        .sum()
                                + plan.putBack().values().stream()
                                        .mapToLong(n -> n)
                                        .sum());
            }
        }

        void restoreAll() {
            for (Run run : List.copyOf(estate.runs)) {
                if (estate.runs.contains(run)) {
                    restore(run);
                    assertThat(read()).as(log.toString()).isEqualTo(estate.rows());
                }
            }
        }

        private void hold() {
            estate.any(random, item -> item.hold == null && item.mark == null).ifPresent(item -> {
                log.add("hold " + item);
                item.hold = vacancy.history().hold(item.table, "name = '" + item.name + "'", ODILE);
            });
        }

        private void lift() {
            estate.any(random, item -> item.hold != null).ifPresent(item -> {
                log.add("lift " + item);
                vacancy.history().lift(item.hold, ODILE);
                item.hold = null;
            });
        }

        private void purge() {
            String before = LocalDate.parse(today()).minusDays(DAYS_KEPT).toString();
            List<Item> over = estate.marked(before);
            log.add("purge " + over);
            Plan plan = vacancy.plan(vacancy.pastRetention("visitor"), ODILE);
            assertThat(plan.selected()).as(log.toString()).isEqualTo(over.size());
            if (!over.isEmpty()) {
                estate.purge(over, vacancy.run(Approval.of(plan)).runId(), now);
            }
        }

        /** Whoever is gone, with all that the trail has of them; their key isn't in use again. */
        private void erase() {
            List<Entry> gone = estate.gone().stream()
                    .filter(entry -> List.of("photo", "visitor").contains(entry.item.table))
                    .toList();
            if (!gone.isEmpty()) {
                Item item = gone.get(random.nextInt(gone.size())).item;
                log.add("erase " + item);
                vacancy.history().erase(item.table, item.keyText(), ODILE);
                estate.erase(item);
            }
        }

        private void age() {
            if (estate.items.stream().noneMatch(item -> item.hold != null)) {
                Instant before = START.plus(Period.ofDays(random.nextInt(1 + TURNS / 3)));
                if (before.isBefore(now)) {
                    log.add("age " + before);
                    vacancy.history().prune(before, ODILE);
                    estate.age(before);
                }
            }
        }

        private void setExtra() {
            estate.any(random, item -> estate.extra.contains(item.table)).ifPresent(item -> {
                log.add("extra of " + item);
                item.extra = "e" + now.getEpochSecond();
                database.run(
                        "update " + item.table + " set extra = '" + item.extra + "' where name = '" + item.name + "'");
            });
        }

        /** A column comes, or goes with all that is in it. */
        private void column() {
            String table = List.of("keeper", "hive", "photo", "visitor").get(random.nextInt(4));
            log.add("column of " + table);
            if (estate.extra.remove(table)) {
                database.run("alter table " + table + " drop column extra");
                estate.items.stream().filter(item -> item.table.equals(table)).forEach(item -> item.extra = null);
            } else {
                database.run("alter table " + table + " add column extra varchar(30)");
                estate.extra.add(table);
            }
        }

        private Set<String> read() {
            Set<String> rows = new TreeSet<>();
            for (String table : List.of("keeper", "hive", "photo", "visitor")) {
                String columns = Estate.columns(table, engine) + (estate.extra.contains(table) ? ", extra" : ", null");
                database.rows("select " + columns + " from " + table)
                        .forEach(row -> rows.add(table + " " + row.replaceAll(" +\\|", "|")));
            }
            return rows;
        }
    }
}
