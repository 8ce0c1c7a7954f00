package dev.vacancy.property;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.BlockedException;
import dev.vacancy.By;
import dev.vacancy.DatabaseException;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Limits;
import dev.vacancy.NotAsPlannedException;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.property.Cases.Case;
import dev.vacancy.property.Cases.Numbers;
import dev.vacancy.property.World.Schemas;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;

/**
 * Random schemas, records, rules and selections, on each database: what a run leaves behind is what a plain model says,
 * and, with the schema's own rules, what the database itself would have left. {@code -Dvacancy.test.cases=20000} makes it a
 * long run, {@code -Dvacancy.test.seed} repeats one.
 */
class DeletionPropertiesTest {
    private static final String OTHER = "other";
    private static final Duration LONGEST_SEARCH = Duration.ofSeconds(20);

    @TestFactory
    DynamicTest onH2() {
        return holdFor(given -> {
            Database database = Engine.H2.database();
            database.schema(OTHER);
            holdOn(Engine.H2, database, new Schemas(database.ownSchema(), OTHER), given);
        });
    }

    @TestFactory
    DynamicTest onPostgres() {
        return holdFor(given -> {
            Database database = Shared.POSTGRESQL.get();
            database.run("drop schema if exists " + OTHER + " cascade", "drop schema public cascade");
            database.schema(OTHER);
            database.schema("public");
            holdOn(Engine.POSTGRESQL, database, new Schemas("public", OTHER), given);
        });
    }

    @TestFactory
    DynamicTest onMariaDb() {
        return holdFor(given -> {
            Database database = Shared.MARIADB.get();
            String other = database.schema(OTHER);
            Schemas schemas = new Schemas(database.ownSchema(), other);
            try {
                holdOn(Engine.MARIADB, database, schemas, given);
            } finally {
                for (String table : given.world().on(Engine.MARIADB, schemas).tableNames()) {
                    database.run("set foreign_key_checks = 0", "drop table if exists " + table);
                }
                database.run("drop schema " + other);
            }
        });
    }

    @TestFactory
    DynamicTest onSqlite() {
        return holdFor(given -> holdOn(Engine.SQLITE, Engine.SQLITE.database(), Schemas.NONE, given));
    }

    /** Tries random cases. One that fails is made as small as it can be and still fail, and told with its seed. */
    private static DynamicTest holdFor(Consumer<Case> property) {
        long seed = Seed.next();
        return DynamicTest.dynamicTest(Seed.cases() + " cases from seed " + seed, () -> {
            for (int i = 0; i < Seed.cases(); i++) {
                Numbers numbers = Cases.random(seed + i);
                Optional<Throwable> failure = failure(property, numbers);
                if (failure.isPresent()) {
                    throw smallest(property, numbers, failure.get(), seed + i);
                }
            }
        });
    }

    private static AssertionError smallest(Consumer<Case> property, Numbers numbers, Throwable failure, long seed) {
        Instant end = Instant.now().plus(LONGEST_SEARCH);
        Numbers smallest = numbers;
        Throwable reason = failure;
        boolean found = true;
        while (found && Instant.now().isBefore(end)) {
            found = false;
            for (Numbers smaller : smallest.smaller()) {
                Optional<Throwable> again = failure(property, smaller);
                if (again.isPresent()) {
                    smallest = smaller;
                    reason = again.get();
                    found = true;
                    break;
                }
            }
        }
        return new AssertionError(
                "-Dvacancy.test.seed=" + seed + " -Dvacancy.test.cases=1 fails. Made small: " + smallest.toCase(),
                reason);
    }

    private static Optional<Throwable> failure(Consumer<Case> property, Numbers numbers) {
        try {
            property.accept(numbers.toCase());
            return Optional.empty();
        } catch (RuntimeException | AssertionError failure) {
            return Optional.of(failure);
        }
    }

    /** One database for all cases, where making one takes long. */
    private static final class Shared {
        static final Supplier<Database> POSTGRESQL = once(Engine.POSTGRESQL::database);
        static final Supplier<Database> MARIADB = once(Engine.MARIADB::database);

        private static Supplier<Database> once(Supplier<Database> make) {
            List<Database> made = new ArrayList<>();
            return () -> {
                if (made.isEmpty()) {
                    made.add(make.get());
                }
                return made.get(0);
            };
        }
    }

    private static void holdOn(Engine engine, Database database, Schemas schemas, Case any) {
        Case given = any.in(any.world().on(engine, schemas));
        Case plain = given.in(given.world().bySchema());
        boolean declared = given.world().links().stream().allMatch(World.Link::declared);
        given.world().script().forEach(database::run);
        if (declared && given.world().traits().refusal().isEmpty()) {
            // A database may refuse because of a child that another of its links would have taken along later; a plan
            // knows better. Wherever it does delete, what it leaves must be the same; H2 leaves children behind whose
            // default leads back to a parent that goes.
            Model.Result expected = Model.delete(plain.world(), plain.root(), plain.selected());
            boolean orphaned = engine == Engine.H2 && expected.end() == Model.End.FAILED;
            Optional<List<String>> afterwards = orphaned ? Optional.empty() : afterNativeDelete(database, plain);
            afterwards.ifPresent(left -> {
                assertThat(expected.end()).isEqualTo(Model.End.DONE);
                assertThat(expected.after().contents()).isEqualTo(left);
            });
        }
        assertLikeModel(database, given);
        assertDecidedLikeModel(database, given);
    }

    /** A program that has decided ends where somebody who is asked does, though less is read on the way. */
    private static void assertDecidedLikeModel(Database database, Case given) {
        World world = given.world();
        Vacancy vacancy = Vacancy.over(database.source(), world.rules())
                .withLimits(Limits.defaults().keysHeld(keysHeld(given)));
        Model.Result expected = given.skipping()
                ? Model.deleteUnblocked(world, given.root(), given.selected())
                : Model.delete(world, given.root(), given.selected());
        if (expected.end() != Model.End.DONE) {
            assertThatThrownBy(() -> vacancy.delete(given.selection(), By.program("nightly")))
                    .isInstanceOf(VacancyException.class);
            assertThat(database.contents(world.tableNames())).isEqualTo(world.contents());
            return;
        }

        Outcome outcome = vacancy.delete(given.selection(), By.program("nightly"));

        assertThat(database.contents(world.tableNames()))
                .isEqualTo(expected.after().contents());
        assertThat(outcome.counts()).isEqualTo(gone(world, expected.after()));
        assertThat(outcome.deleted()).hasSize((int) outcome.selected());
    }

    private static void assertLikeModel(Database database, Case given) {
        World world = given.world();
        RuleBook rules = world.rules().trail(Trail.defaults());
        Ddl.of(database.source(), rules).apply();
        Vacancy vacancy = Vacancy.over(database.source(), rules)
                .withLimits(Limits.defaults().keysHeld(keysHeld(given)));
        Model.Result expected = given.skipping()
                ? Model.deleteUnblocked(world, given.root(), given.selected())
                : Model.delete(world, given.root(), given.selected());
        Optional<Approval> approval = approve(vacancy, given);
        assertThat(database.contents(world.tableNames())).isEqualTo(world.contents());
        assertThat(approval.isPresent()).isEqualTo(expected.end() != Model.End.FORBIDDEN);
        if (approval.isEmpty()) {
            return;
        }
        Plan plan = (Plan) approval.get().plan();
        assertThat(plan.skipped())
                .extracting(skipped -> world.traits()
                        .keyType()
                        .numberOf(skipped.root().values().get("id")))
                // By key, which for text isn't the order of the numbers that it stands for.
                .containsExactlyInAnyOrderElementsOf(expected.skipped());
        if (expected.end() == Model.End.FAILED) {
            assertThatThrownBy(() -> vacancy.run(approval.get()))
                    .isInstanceOfAny(
                            DatabaseException.class, InvalidRequestException.class, NotAsPlannedException.class);
            assertThat(database.contents(world.tableNames())).isEqualTo(world.contents());
            return;
        }
        if (given.selected().size() % 3 == 2) {
            assertDoneInChunks(database, vacancy, plan, world, expected);
        } else {
            assertDone(database, vacancy, approval.get(), world, expected.after());
        }
    }

    /** Chunked or not, the database ends the same. */
    private static void assertDoneInChunks(
            Database database, Vacancy vacancy, Plan plan, World world, Model.Result expected) {
        BulkOptions options = BulkOptions.defaults().chunk(Plan.MOST_ROOTS);
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        BulkRun started = vacancy.bulk().start(Approval.inChunks(plan), options);

        BulkRun end = vacancy.bulk().work(started.runId(), options, Exemption.none(), soFar -> {});

        assertThat(database.contents(world.tableNames()))
                .isEqualTo(expected.after().contents());
        assertThat(end.state()).isEqualTo(BulkState.DONE);
        assertThat(end.failed()).isEqualTo(expected.skipped().size());
        assertThat(end.done()).isEqualTo(plan.selected());
        assertThat(end.deleted())
                .isEqualTo(gone(world, expected.after()).values().stream()
                        .mapToLong(Long::longValue)
                        .sum());
        assertRestored(database, vacancy, started.runId(), world);
    }

    /** What a run has done is undone, to the last foreign key, and the trail knows of both. */
    private static void assertRestored(Database database, Vacancy vacancy, UUID run, World before) {
        if (database.contents(before.tableNames()).equals(before.contents())) {
            return;
        }
        RestorePlan plan = vacancy.history().planRestore(run, By.user("una"));
        assertThat(plan.conflicts()).isEmpty();
        vacancy.history().restore(Approval.of(plan));
        assertThat(database.contents(before.tableNames())).isEqualTo(before.contents());
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    /** Whether keys are held or left in the database makes no difference. */
    private static int keysHeld(Case given) {
        return List.of(0, 2, 10_000).get(given.world().links().size() % 3);
    }

    private static void assertDone(Database database, Vacancy vacancy, Approval approval, World world, World expected) {
        Outcome outcome = vacancy.run(approval);

        List<String> after = database.contents(world.tableNames());
        assertThat(after).isEqualTo(expected.contents());
        assertThat(outcome.counts()).isEqualTo(gone(world, expected));
        assertThat(approval.plan().counts()).isEqualTo(outcome.counts());
        world.orphanQueries().forEach(query -> assertThat(database.rows(query)).containsExactly("0"));
        if (outcome.total() > 0) {
            assertThatThrownBy(() -> vacancy.run(approval)).isInstanceOf(StalePlanException.class);
            assertThat(database.contents(world.tableNames())).isEqualTo(after);
        }
        assertRestored(database, vacancy, outcome.runId(), world);
    }

    /** Nothing if a child forbids the deletion, or a parent who should take one over isn't there or goes too. */
    private static Optional<Approval> approve(Vacancy vacancy, Case given) {
        try {
            return Optional.of(Approval.of(vacancy.plan(given.selection(), By.user("odile"))));
        } catch (BlockedException blocked) {
            return Optional.empty();
        } catch (InvalidRequestException refused) {
            assertThat(refused).hasMessageContaining("who should take over");
            return Optional.empty();
        }
    }

    private static Map<String, Long> gone(World before, World after) {
        Map<String, Long> gone = new LinkedHashMap<>();
        for (int table = 0; table < before.tables(); table++) {
            int count = before.records().get(table).size()
                    - after.records().get(table).size();
            if (count > 0) {
                gone.put(before.name(table), (long) count);
            }
        }
        return gone;
    }

    /** What the database leaves when it is told to delete by itself; nothing if it refuses, or has nothing to do. */
    private static Optional<List<String>> afterNativeDelete(Database database, Case given) {
        String keys = given.selected().stream()
                .map(given.world().traits().keyType()::literal)
                .collect(Collectors.joining(", "));
        if (keys.isEmpty()) {
            return Optional.empty();
        }
        try (Connection connection = database.connect();
                Statement statement = connection.createStatement()) {
            connection.setAutoCommit(false);
            try {
                statement.executeUpdate(
                        "delete from " + given.world().inSql(given.root()) + " where id in (" + keys + ")");
                return Optional.of(Database.contents(connection, given.world().tableNames()));
            } catch (SQLException refused) {
                return Optional.empty();
            } finally {
                connection.rollback();
            }
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }
}
