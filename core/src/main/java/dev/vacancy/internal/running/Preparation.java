package dev.vacancy.internal.running;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.tables.OwnTable;
import dev.vacancy.internal.tables.OwnTables;
import java.sql.Statement;
import java.util.List;

/**
 * Makes tables of ours, and brings those up to date that an earlier version has made.
 *
 * @param tables the tables
 * @param dialect the dialect of the database
 * @param transactions where it is done
 * @since 0.1
 */
public record Preparation(List<OwnTable> tables, Dialect dialect, Transactions transactions) {
    /** {@return what is missing of them, as statements} */
    public List<String> missing() {
        return transactions.reading(connection -> OwnTables.missing(tables, dialect, connection));
    }

    /**
     * Makes what is missing of them.
     *
     * @return how many statements that took
     */
    public int apply() {
        List<String> statements = missing();
        if (statements.isEmpty()) {
            return 0;
        }
        requireNobodyElses(dialect, transactions);
        return transactions.writing(connection -> {
            try (Statement statement = connection.createStatement()) {
                for (String sql : statements) {
                    statement.execute(sql);
                }
            }
            return statements.size();
        });
    }

    /**
     * Sees to it that to make a table commits nothing of the application's.
     *
     * @param dialect the dialect of the database
     * @param transactions where it would be made
     * @throws InvalidRequestException inside a transaction of the application's that it would commit
     */
    public static void requireNobodyElses(Dialect dialect, Transactions transactions) {
        if (transactions.isJoined() && dialect.commitsAtDdl()) {
            throw new InvalidRequestException(
                    FailureCode.FOREIGN_TRANSACTION,
                    dialect.name()
                            + " commits a transaction in which a table is made, and one of the application's is open.",
                    "Make what is needed before it begins, or when it has ended.");
        }
    }
}
