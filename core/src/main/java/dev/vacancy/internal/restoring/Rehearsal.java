package dev.vacancy.internal.restoring;

import dev.vacancy.DatabaseException;
import dev.vacancy.LockedException;
import dev.vacancy.VacancyException;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.Conflict;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.failure.LockFailures;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.Transactions;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * Tries a restore and takes it back, where a table has something of which only the database knows what it says: a check, an exclusion, an
 * index on an expression, a trigger. So the plan tells what the restore would be refused for. It is tried only where nothing else stands in
 * the way, and the beginning only of a large one.
 */
final class Rehearsal {
    private static final int MOST = 10_000;

    private final Rules rules;
    private final Dialect dialect;
    private final Transactions transactions;
    private final Restores restores;

    Rehearsal(Rules rules, Dialect dialect, Transactions transactions, Restores restores) {
        this.rules = rules;
        this.dialect = dialect;
        this.transactions = transactions;
        this.restores = restores;
    }

    /** Takes back whatever was tried. */
    private static final class Over extends RuntimeException {
        private static final long serialVersionUID = 1L;

        private final transient Optional<RefusedRecord> refused;
        private final boolean whole;

        Over(Optional<RefusedRecord> refused, boolean whole) {
            super(null, null, false, false);
            this.refused = refused;
            this.whole = whole;
        }
    }

    /** Adds to a plan what the database says of it. */
    PlannedRestore of(PlannedRestore plan) {
        Map<String, List<String>> judges =
                plan.conflicts().isEmpty() ? transactions.reading(connection -> judges(connection, plan)) : Map.of();
        if (judges.isEmpty()) {
            return plan;
        }
        String named = String.join(", ", judges.keySet());
        if (transactions.isJoined()) {
            return plan.telling("What checks, triggers and the like of " + named
                    + " say of it was not tried, inside the application's transaction.");
        }
        try {
            return transactions.writing(connection -> {
                throw tried(connection, plan);
            });
        } catch (Over over) {
            if (over.refused.isPresent()) {
                RefusedRecord refused = over.refused.get();
                Conflict conflict =
                        refused.conflict(judges.getOrDefault(refused.table().name(), List.of()));
                return plan.hinderedBy(conflict);
            }
            return over.whole
                    ? plan
                    : plan.telling(String.format(
                            Locale.ROOT,
                            "What checks, triggers and the like of %s say was tried with the first %,d records only.",
                            named,
                            MOST));
        } catch (VacancyException untried) {
            return plan.telling("What checks, triggers and the like of " + named + " say of it could not be tried: "
                    + why(untried));
        }
    }

    /** Without the words of a driver, which may show what nobody should see. */
    private String why(VacancyException untried) {
        boolean waited = untried instanceof LockedException
                || (untried.getCause() instanceof SQLException failure && dialect.isLockFailure(failure));
        if (waited) {
            return "somebody else is changing what it would meet.";
        }
        return untried instanceof DatabaseException
                ? "the database refused that for another reason than the records, such as a missing right."
                : untried.problem();
    }

    private Over tried(Connection connection, PlannedRestore plan) {
        Restoration restoration = restores.tried(connection);
        try {
            boolean whole = restores.look(connection, plan, restoration, MOST);
            if (whole) {
                restoration.end();
            }
            return new Over(Optional.empty(), whole);
        } catch (RefusedRecord refused) {
            return new Over(Optional.of(refused), false);
        } catch (SQLException failure) {
            if (dialect.isLockFailure(failure)) {
                throw LockFailures.ofConflict("what comes back", failure);
            }
            if (RefusedRecord.isByData(failure, dialect)) {
                Table table = rules.catalog().table(plan.run().table());
                return new Over(Optional.of(new RefusedRecord(table, failure)), false);
            }
            throw new DatabaseException("try the restore", "Nothing was changed.", failure);
        }
    }

    private Map<String, List<String>> judges(Connection connection, PlannedRestore plan) throws SQLException {
        Map<String, List<String>> judges = new LinkedHashMap<>();
        List<Table> tables = rules.catalog().tables().stream()
                .filter(table -> concerns(plan, table))
                .toList();
        for (Table table : tables) {
            List<String> names = dialect.judges(connection, table.schema(), table.storedName());
            if (!names.isEmpty()) {
                judges.put(table.name(), names);
            }
        }
        return judges;
    }

    private static boolean concerns(PlannedRestore plan, Table table) {
        return plan.counts().containsKey(table.name())
                || plan.putBack().keySet().stream().anyMatch(where -> where.startsWith(table.name() + "."));
    }
}
