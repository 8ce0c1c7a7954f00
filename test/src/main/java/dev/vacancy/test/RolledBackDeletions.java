package dev.vacancy.test;

import static java.util.Objects.requireNonNull;

import dev.vacancy.Vacancy;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.function.Supplier;
import javax.sql.DataSource;
import org.junit.jupiter.api.extension.AfterEachCallback;
import org.junit.jupiter.api.extension.BeforeEachCallback;
import org.junit.jupiter.api.extension.ExtensionContext;
import org.junit.jupiter.api.extension.ParameterContext;
import org.junit.jupiter.api.extension.ParameterResolver;

/**
 * An extension of JUnit's that gives each test a transaction of its own, and rolls it back: the database is afterwards as it was, whatever a
 * test has deleted.
 *
 * <pre>{@code
 * @RegisterExtension
 * static final RolledBackDeletions DELETIONS = RolledBackDeletions.over(() -> DATABASE, rules);
 *
 * @Test
 * void aPierTakesItsBerthsAlong(Vacancy vacancy, Connection connection) { … }
 * }</pre>
 *
 * <p>Both parameters are of the same transaction. What can't be part of one, such as a bulk run, is refused in it. Tables and columns of
 * Vacancy's that the rules need are made before the first test, and stay.
 *
 * @since 0.1
 */
public final class RolledBackDeletions implements BeforeEachCallback, AfterEachCallback, ParameterResolver {
    private static final ExtensionContext.Namespace OURS = ExtensionContext.Namespace.create(RolledBackDeletions.class);

    private final Supplier<DataSource> source;
    private final RuleBook rules;

    private RolledBackDeletions(Supplier<DataSource> source, RuleBook rules) {
        this.source = source;
        this.rules = rules;
    }

    /**
     * Makes the extension.
     *
     * @param source gives the database, once its schema is there
     * @param rules what the application says of deletion
     * @return the extension, to be registered in a static field
     */
    public static RolledBackDeletions over(Supplier<DataSource> source, RuleBook rules) {
        return new RolledBackDeletions(requireNonNull(source, "source"), requireNonNull(rules, "rules"));
    }

    /** What a test has: its connection, and what deletes on it. */
    private record Open(Connection connection, Vacancy vacancy) {}

    @Override
    public void beforeEach(ExtensionContext context) throws SQLException {
        Vacancy whole =
                context.getRoot().getStore(OURS).getOrComputeIfAbsent(this, missing -> prepared(), Vacancy.class);
        Connection connection = source.get().getConnection();
        connection.setAutoCommit(false);
        context.getStore(OURS).put(this, new Open(connection, whole.joining(connection)));
    }

    private Vacancy prepared() {
        DataSource database = source.get();
        Ddl.of(database, rules).apply();
        return Vacancy.over(database, rules);
    }

    @Override
    public void afterEach(ExtensionContext context) throws SQLException {
        Open open = context.getStore(OURS).remove(this, Open.class);
        if (open != null) {
            try (Connection connection = open.connection()) {
                connection.rollback();
            }
        }
    }

    @Override
    public boolean supportsParameter(ParameterContext parameter, ExtensionContext context) {
        Class<?> type = parameter.getParameter().getType();
        return type == Vacancy.class || type == Connection.class;
    }

    @Override
    public Object resolveParameter(ParameterContext parameter, ExtensionContext context) {
        Open open = context.getStore(OURS).get(this, Open.class);
        if (open == null) {
            throw new IllegalStateException("A transaction is only open while a test runs: take "
                    + parameter.getParameter().getType().getSimpleName()
                    + " as a parameter of the test or of @BeforeEach.");
        }
        return parameter.getParameter().getType() == Vacancy.class ? open.vacancy() : open.connection();
    }
}
