package dev.vacancy.internal.planning;

import dev.vacancy.Limits;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.SqlStore;
import java.sql.Connection;
import java.time.Clock;
import java.time.Instant;

/**
 * Plans in a relational database: knows by which rules, and within which limits.
 *
 * @since 0.1
 */
public final class Planner {
    private final Rules rules;
    private final Dialect dialect;
    private final Clock clock;
    private final Limits limits;
    private final String schema;
    private final RecordObserver observer;

    /**
     * Makes a planner.
     *
     * @param rules the rule of each link of the catalog
     * @param dialect the dialect of the database
     * @param clock tells when a plan was made
     * @param limits how many keys are held, and how long is waited for locks
     * @param schema the schema that statements meant which named none, where the catalog was read
     */
    public Planner(Rules rules, Dialect dialect, Clock clock, Limits limits, String schema) {
        this(rules, dialect, clock, limits, schema, RecordObserver.NOBODY);
    }

    private Planner(Rules rules, Dialect dialect, Clock clock, Limits limits, String schema, RecordObserver observer) {
        this.observer = observer;
        this.rules = rules;
        this.dialect = dialect;
        this.clock = clock;
        this.limits = limits;
        this.schema = schema;
    }

    /**
     * Plans in the transaction of a connection.
     *
     * @param connection an open connection
     * @return what plans there
     */
    public Planning on(Connection connection) {
        return new Planning(rules, clock, limits, observer, new SqlStore(connection, dialect, schema));
    }

    /**
     * Returns the same within other limits.
     *
     * @param other the limits
     * @return the other planner
     */
    public Planner within(Limits other) {
        return new Planner(rules, dialect, clock, other, schema, observer);
    }

    /**
     * Returns the same by other rules over the same catalog.
     *
     * @param others the rules
     * @return the other planner
     */
    public Planner under(Rules others) {
        return new Planner(others, dialect, clock, limits, schema, observer);
    }

    /**
     * Returns the same for somebody who may not plan everything.
     *
     * @param other looks at each selected record
     * @return the other planner
     */
    public Planner watchedBy(RecordObserver other) {
        return new Planner(rules, dialect, clock, limits, schema, other);
    }

    /**
     * Tells whether anybody looks on.
     *
     * @return true if selected records are to be shown
     */
    public boolean isWatched() {
        return observer != RecordObserver.NOBODY;
    }

    /**
     * Returns what plans are made from.
     *
     * @return the rules and their catalog
     */
    public Rules rules() {
        return rules;
    }

    /**
     * Returns how far plans and runs may go.
     *
     * @return the limits
     */
    public Limits limits() {
        return limits;
    }

    /**
     * Tells the time as if it were a moment.
     *
     * @param moment the moment
     * @return a clock that stands still there
     */
    public Clock at(Instant moment) {
        return Clock.fixed(moment, clock.getZone());
    }

    /**
     * Tells what the rules ask for before a plan is carried out that was made elsewhere, by rules that may ask for less.
     *
     * @param plan the plan
     * @param scope what it is of here
     * @return the same plan with what is asked for here
     */
    public Gated underTheseRules(PlannedDeletion plan, Scope scope) {
        return PlannedElsewhere.of(plan, rules, scope);
    }
}
