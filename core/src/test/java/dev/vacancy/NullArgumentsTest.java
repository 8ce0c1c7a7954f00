package dev.vacancy;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.util.stream.Stream;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** A null argument is reported at once, by its name. */
class NullArgumentsTest {
    private static final By ODILE = By.user("odile");

    static Stream<Arguments> calls() {
        Database database = Engine.H2.database().run("create table hive (hive_id integer primary key)");
        Vacancy vacancy = Vacancy.over(database.source());
        return Stream.of(
                call("dataSource", () -> Vacancy.over(null)),
                call("rules", () -> Vacancy.over(database.source(), null)),
                call("dataSource", () -> Ddl.of(null, RuleBook.bySchema())),
                call("selection", () -> vacancy.plan((Selection) null, ODILE)),
                call("emptying", () -> vacancy.plan((Emptying) null, ODILE)),
                call("selection", () -> vacancy.delete(null, ODILE)),
                call("approval", () -> vacancy.run(null)),
                call("limits", () -> vacancy.withLimits(null)),
                call("listener", () -> vacancy.withListener(null)),
                call("connection", () -> vacancy.joining(null)),
                call("plan", () -> Approval.of(null)),
                call("plan", () -> Question.about(null)));
    }

    private static Arguments call(String name, ThrowingCallable call) {
        return Arguments.of(name, call);
    }

    @ParameterizedTest
    @MethodSource("calls")
    void aNullIsReportedByItsName(String name, ThrowingCallable call) {
        assertThatThrownBy(call).isInstanceOf(NullPointerException.class).hasMessage(name);
    }

    /** Nobody who asks is a mistake of its own kind, with its own remedy. */
    @Test
    void whoeverAsksIsAskedForByTheirOwnCode() {
        Database database = Engine.H2.database().run("create table hive (hive_id integer primary key)");
        Vacancy vacancy = Vacancy.over(database.source());

        assertThatThrownBy(() -> vacancy.plan(Selection.of("hive").key(1), null))
                .isInstanceOfSatisfying(
                        InvalidRequestException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.NO_ACTOR));
    }
}
