package dev.vacancy.gate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.Selection;
import dev.vacancy.TransactionSource;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.approvals.Approvals;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.history.History;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.lang.reflect.Method;
import java.lang.reflect.Modifier;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.DynamicContainer;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestFactory;

/** Each check of the gate, at each door, on each database: what one of them refuses can't be passed by another. */
class GateTest {
    private static final By ODILE = By.user("odile");
    private static final RuleBook RULES = RuleBook.bySchema()
            .on("reading_of_hive.hive_id", Clause.cascade())
            .marker("hive", Marker.timestamp("gone_at"))
            .soft("hive", SoftDelete.defaults())
            .trail(Trail.defaults());
    private static final ConsentRule COLLEAGUE =
            ConsentRule.atLeast(Consent.NONE).withColleague();
    private static final ConsentRule TYPED = ConsentRule.atLeast(Consent.NUMBER);

    /** What has to be refused, who is to blame, and by which code. */
    private enum Check {
        OTHER_RULES(FailureCode.RULES) {
            @Override
            boolean concerns(Door door) {
                return door.hasApproval();
            }

            @Override
            RuleBook rulesOfTheOther() {
                return RULES.ignoringChangesIn("reading.note");
            }
        },
        OTHER_DATABASE(FailureCode.APPROVAL_OF_ANOTHER) {
            @Override
            boolean concerns(Door door) {
                // Of a bulk run the lines are in the one database, and of a restore the trail.
                return door.hasApproval() && door != Door.CHUNK && !door.restores();
            }

            @Override
            boolean onACopy() {
                return true;
            }
        },
        COLLEAGUE_MISSING(FailureCode.NO_COLLEAGUE) {
            @Override
            RuleBook rulesOfThisOne() {
                return RULES.consent("hive", COLLEAGUE)
                        .consent("reading", COLLEAGUE)
                        .consent("shelf", COLLEAGUE);
            }
        },
        NOBODY_ASKED(FailureCode.NOT_AGREED) {
            @Override
            boolean concerns(Door door) {
                // Nobody has to type anything for records that come back; what empties a table or retires was typed for
                // this door.
                return !door.restores() && door != Door.SIGNED_EMPTYING && door != Door.RETIREMENT;
            }

            @Override
            RuleBook rulesOfThisOne() {
                return RULES.consent("hive", TYPED).consent("reading", TYPED);
            }
        },
        NOT_PERMITTED(FailureCode.FORBIDDEN) {
            @Override
            Vacancy allowed(Vacancy vacancy) {
                return vacancy.actingFor(ODILE, (by, act, table) -> false);
            }
        },
        HELD(FailureCode.BLOCKED) {
            @Override
            boolean concerns(Door door) {
                // A bulk run leaves out what is held, and an emptied table is told by its consent alone.
                return !door.restores() && !door.empties() && !door.isOfBulkRun();
            }

            @Override
            void meanwhile(Database database, Vacancy vacancy) {
                vacancy.history().standingHold("hive", "hive_id < 9", ODILE.because("an inquiry"));
                vacancy.history().standingHold("shelf", "shelf_id < 9", ODILE.because("an inquiry"));
            }
        },
        CHANGED_MEANWHILE(FailureCode.STALE_PLAN) {
            @Override
            boolean concerns(Door door) {
                return door.hasApproval()
                        && !door.restores()
                        && !door.leavesRecords()
                        // A column that retires goes on being filled.
                        && door != Door.RETIREMENT
                        && door != Door.BULK
                        && door != Door.CHUNK;
            }

            @Override
            void meanwhile(Database database, Vacancy vacancy) {
                database.run("update hive set name = 'renamed'", "insert into reading values (99, 'added')");
            }
        };

        private final FailureCode code;

        Check(FailureCode code) {
            this.code = code;
        }

        boolean concerns(Door door) {
            return true;
        }

        RuleBook rulesOfTheOther() {
            return RULES;
        }

        RuleBook rulesOfThisOne() {
            return RULES;
        }

        boolean onACopy() {
            return false;
        }

        Vacancy allowed(Vacancy vacancy) {
            return vacancy;
        }

        void meanwhile(Database database, Vacancy vacancy) {}
    }

    /** A database in which all can be done. */
    private static class Scene implements Door.Stage {
        private final Database database;
        private final Check check;
        private final UUID earlier;

        Scene(Engine engine, Check check) {
            this.check = check;
            this.database = engine.database()
                    .run(
                            "create table hive (hive_id integer primary key, name varchar(40))",
                            "create table reading_of_hive (id integer primary key, hive_id integer not null,"
                                    + " foreign key (hive_id) references hive (hive_id))",
                            "create table shelf (shelf_id integer primary key, wood varchar(40))",
                            "create table reading (reading_id integer primary key, note varchar(40))",
                            "insert into hive values (1, 'Fen One'), (2, 'Fen Two'), (3, 'Fen Three'), (4, 'Fen Four')",
                            "insert into reading_of_hive values (10, 1), (11, 2), (12, 4)",
                            "insert into reading values (1, 'a'), (2, 'b')");
            Ddl.of(database.source(), RULES).apply();
            Vacancy vacancy = Vacancy.over(database.source(), RULES);
            Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
            Ddl.of(database.source(), Ddl.Part.APPROVALS).apply();
            Ddl.of(database.source(), Ddl.Part.RETIREMENTS).apply();
            vacancy.delete(Selection.of("hive").key(3), ODILE);
            earlier = vacancy.delete(Selection.of("hive").key(4), ODILE).runId();
            database.run("insert into hive (hive_id, name) values (5, 'Fen Five')");
            vacancy.delete(Selection.of("hive").keys(List.of(GONE)).hard(), ODILE);
        }

        List<String> contents() {
            List<String> contents = new ArrayList<>(database.contents("hive", "reading", "reading_of_hive"));
            contents.add(
                    "erased: " + database.rows("select count(*) from vacancy_trail_entry where erased_by is not null"));
            contents.add("retired: " + database.count("vacancy_retirement"));
            return contents;
        }

        @Override
        public By by() {
            return ODILE;
        }

        @Override
        public RuleBook rules() {
            return check.rulesOfThisOne();
        }

        @Override
        public UUID earlier() {
            return earlier;
        }

        @Override
        public Vacancy over(RuleBook rules, TransactionSource source) {
            return Vacancy.over(database.source(), rules, source);
        }

        @Override
        public Vacancy allowed(Vacancy vacancy) {
            return check.allowed(vacancy);
        }

        @Override
        public void inTransaction(Consumer<Connection> work) {
            try (Connection connection = database.connect()) {
                Door.committing(connection, work);
            } catch (SQLException failure) {
                throw new IllegalStateException(failure);
            }
        }
    }

    @TestFactory
    Stream<DynamicContainer> whatOneDoorRefusesNoOtherLetsThrough() {
        return Arrays.stream(Engine.values())
                .flatMap(engine -> Arrays.stream(Check.values())
                        .map(check ->
                                DynamicContainer.dynamicContainer(engine + " " + check, refusals(engine, check))));
    }

    /** All that is agreed to at any of the doors, then what happens meanwhile, and then what becomes of each. */
    private static Stream<DynamicTest> refusals(Engine engine, Check check) {
        Scene here = new Scene(engine, check);
        Scene there = check.onACopy() ? new Scene(engine, check) : here;
        Vacancy other = Vacancy.over(there.database.source(), check.rulesOfTheOther());
        Map<Door, Consumer<Vacancy>> carryingOut = new EnumMap<>(Door.class);
        Arrays.stream(Door.values())
                .filter(check::concerns)
                .forEach(door -> carryingOut.put(door, door.agreed(other, here)));
        check.meanwhile(here.database, Vacancy.over(here.database.source(), RULES));
        Vacancy vacancy = check.allowed(Vacancy.over(here.database.source(), check.rulesOfThisOne()));
        return carryingOut.entrySet().stream()
                .map(door -> DynamicTest.dynamicTest(
                        door.getKey().toString(),
                        () -> refused(here, check, () -> door.getValue().accept(vacancy))));
    }

    private static void refused(Scene here, Check check, ThrowingCallable attempt) {
        List<String> before = here.contents();

        assertThatThrownBy(attempt)
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(check.code));

        assertThat(here.contents()).isEqualTo(before);
    }

    @TestFactory
    Stream<DynamicTest> eachDoorLetsThroughWhatWasAgreedTo() {
        return Arrays.stream(Engine.values())
                .flatMap(engine -> Arrays.stream(Door.values())
                        .map(door -> DynamicTest.dynamicTest(engine + " " + door, () -> passed(engine, door))));
    }

    private static void passed(Engine engine, Door door) {
        Scene here = new Scene(engine, Check.NOBODY_ASKED) {
            @Override
            public RuleBook rules() {
                return RULES;
            }
        };
        Consumer<Vacancy> carryingOut = door.agreed(Vacancy.over(here.database.source(), RULES), here);
        List<String> before = here.contents();

        carryingOut.accept(Vacancy.over(here.database.source(), RULES));

        assertThat(here.contents()).isNotEqualTo(before);
    }

    /** A new method that takes an approval, or decides without one, has to be added to the doors. */
    @Test
    void noDoorIsMissing() {
        Set<String> doors = Stream.of(Vacancy.class, BulkRuns.class, History.class, Approvals.class)
                .flatMap(type -> Arrays.stream(type.getMethods()))
                .filter(method -> Modifier.isPublic(method.getModifiers()))
                .filter(GateTest::changesRecords)
                .map(method -> method.getDeclaringClass().getSimpleName() + "." + method.getName())
                .collect(Collectors.toSet());

        assertThat(Arrays.stream(Door.values()).map(Door::method)).containsAll(doors);
    }

    private static boolean changesRecords(Method method) {
        Set<Class<?>> parameters = Set.of(
                method.getParameterTypes().length == 0
                        ? new Class<?>[0]
                        : Arrays.stream(method.getParameterTypes()).distinct().toArray(Class<?>[]::new));
        boolean decides = parameters.contains(Selection.class)
                && parameters.contains(By.class)
                && !Set.of("plan", "list", "agree").contains(method.getName());
        return parameters.contains(Approval.class)
                || decides
                || method.getName().startsWith("redeem");
    }
}
