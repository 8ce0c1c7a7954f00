package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.params.provider.Arguments.arguments;

import dev.vacancy.Approval;
import dev.vacancy.BlockedException;
import dev.vacancy.By;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Stream;
import javax.sql.DataSource;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** How a session writes a value changes nothing: what one has planned, deleted or held is the same in another one. */
class OtherSessionTest {
    private static final RuleBook BOOK = RuleBook.bySchema().trail(Trail.defaults());
    private static final By ODILE = By.user("odile");

    private static Stream<Arguments> values() {
        String point = "timestamptz '2026-03-29 01:30:00.25+00'";
        return Stream.of(
                        Stream.of(
                                        arguments("timestamptz", point),
                                        arguments("timestamptz", "timestamptz 'infinity'"),
                                        arguments("timestamptz", "timestamptz '-infinity'"),
                                        arguments("timestamptz", "timestamptz '0044-03-15 12:00:00+00 BC'"),
                                        arguments("timestamptz", "timestamptz '294276-12-31 23:59:59.999999+00'"),
                                        arguments("timestamptz(0)", "timestamptz '2026-10-25 00:30:00+00'"),
                                        arguments("timetz", "timetz '23:30:00+05:30'"),
                                        arguments("timestamptz[]", "array[" + point + "]"),
                                        arguments("tstzrange", "tstzrange(" + point + ", null)"))
                                .map(value -> in(
                                        Engine.POSTGRESQL,
                                        value,
                                        "set time zone 'Europe/Berlin'",
                                        "set time zone 'Pacific/Kiritimati'")),
                        Stream.of(
                                in(
                                        Engine.POSTGRESQL,
                                        arguments("interval", "interval '1 year -2 days 3 hours'"),
                                        "set intervalstyle = 'sql_standard'",
                                        "set intervalstyle = 'iso_8601'"),
                                in(
                                        Engine.POSTGRESQL,
                                        arguments("bytea[]", "array['\\x00ff5c'::bytea]"),
                                        "set bytea_output = 'escape'",
                                        "set bytea_output = 'hex'"),
                                in(
                                        Engine.MARIADB,
                                        arguments("timestamp", "'2026-03-29 01:30:00'"),
                                        "set time_zone = '+02:00'",
                                        "set time_zone = '-11:00'"),
                                in(
                                        Engine.H2,
                                        arguments(
                                                "timestamp with time zone",
                                                "timestamp with time zone '2026-03-29 01:30:00.25+00'"),
                                        "set time zone 'Europe/Berlin'",
                                        "set time zone 'Pacific/Kiritimati'")))
                .flatMap(each -> each);
    }

    private static Stream<Arguments> points() {
        return values().filter(value -> value.get()[1].toString().matches("timestamp[a-z ]*"));
    }

    private static Arguments in(Engine engine, Arguments value, String before, String after) {
        return arguments(engine, value.get()[0], value.get()[1], before, after);
    }

    /** Things that are known by a value, and hold it; what one session and another one know of them. */
    private record Yard(Database database, Vacancy first, Vacancy second, List<String> contents) {
        static Yard of(Engine engine, String type, String value, String before, String after) {
            Database database = engine.database()
                    .run(
                            "create table thing (id " + type + " primary key, held " + type + ")",
                            "create table part (part_id integer primary key, held " + type + ")");
            DataSource first = source(database.source(), before);
            DataSource second = source(database.source(), after);
            run(first, "insert into thing values (" + value + ", " + value + ")");
            run(first, "insert into part values (1, " + value + "), (2, null)");
            Ddl.of(first, BOOK).apply();
            Ddl.of(first, Ddl.Part.BULK_RUNS).apply();
            return new Yard(
                    database,
                    Vacancy.over(first, BOOK),
                    Vacancy.over(second, BOOK),
                    database.contents("thing", "part"));
        }

        List<String> now() {
            return database.contents("thing", "part");
        }
    }

    @ParameterizedTest(name = "{0} {1} {2}")
    @MethodSource("values")
    void whatOneHasDeletedAnotherOneBringsBack(Engine engine, String type, String value, String before, String after) {
        Yard yard = Yard.of(engine, type, value, before, after);
        UUID thing = delete(yard.first(), "thing");
        UUID part = delete(yard.first(), "part");

        restore(yard.second(), thing);
        restore(yard.second(), part);

        assertThat(yard.now()).isEqualTo(yard.contents());
        assertThat(yard.second().history().verify(Optional.empty()).faults()).isEmpty();
    }

    @ParameterizedTest(name = "{0} {1} {2}")
    @MethodSource("points")
    void whatOneHasPlannedAnotherOneCarriesOut(Engine engine, String type, String value, String before, String after) {
        Yard yard = Yard.of(engine, type, value, before, after);
        Approval thing = Approval.of(plan(yard.first(), "thing"));
        Approval part = Approval.of(plan(yard.first(), "part"));

        yard.second().run(thing);
        yard.second().run(part);

        assertThat(yard.now()).containsExactly("thing: []", "part: []");
    }

    @ParameterizedTest(name = "{0} {1} {2}")
    @MethodSource("values")
    void whatOneHasStartedAnotherOneGoesOnWith(Engine engine, String type, String value, String before, String after) {
        Yard yard = Yard.of(engine, type, value, before, after);
        BulkOptions options = BulkOptions.defaults();

        BulkRun run = yard.first().bulk().start(Approval.inChunks(plan(yard.first(), "thing")), options);
        yard.second().bulk().work(run.runId(), options, Exemption.none(), soFar -> {});

        assertThat(yard.database().count("thing")).isZero();
    }

    @ParameterizedTest(name = "{0} {1} {2}")
    @MethodSource("values")
    void whatOneHoldsAnotherOneDoesNotDelete(Engine engine, String type, String value, String before, String after) {
        Yard yard = Yard.of(engine, type, value, before, after);
        yard.first().history().hold("thing", "held is not null", ODILE.because("inspection"));

        assertThatThrownBy(() -> delete(yard.second(), "thing")).isInstanceOf(BlockedException.class);
        assertThat(yard.now()).isEqualTo(yard.contents());
    }

    private static Plan plan(Vacancy vacancy, String table) {
        return vacancy.plan(Selection.of(table).allRecords(), ODILE);
    }

    private static UUID delete(Vacancy vacancy, String table) {
        return vacancy.run(Approval.of(plan(vacancy, table))).runId();
    }

    private static void restore(Vacancy vacancy, UUID run) {
        RestorePlan plan = vacancy.history().planRestore(run, ODILE);
        assertThat(plan.conflicts()).isEmpty();
        vacancy.history().restore(Approval.of(plan));
    }

    private static void run(DataSource source, String sql) {
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute(sql);
        } catch (SQLException refused) {
            throw new IllegalStateException(refused);
        }
    }

    /** Each connection begins with a setting. */
    private static DataSource source(DataSource source, String setting) {
        return (DataSource) Proxy.newProxyInstance(
                OtherSessionTest.class.getClassLoader(),
                new Class<?>[] {DataSource.class},
                (proxy, method, arguments) -> {
                    try {
                        Object result = method.invoke(source, arguments);
                        if (result instanceof Connection connection) {
                            try (Statement statement = connection.createStatement()) {
                                statement.execute(setting);
                            }
                        }
                        return result;
                    } catch (InvocationTargetException failure) {
                        throw failure.getCause();
                    }
                });
    }
}
