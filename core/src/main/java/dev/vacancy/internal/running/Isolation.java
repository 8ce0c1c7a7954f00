package dev.vacancy.internal.running;

import java.sql.Connection;

/** The names of JDBC's isolation levels, as SQL writes them. */
final class Isolation {
    private Isolation() {}

    static String name(int level) {
        return switch (level) {
            case Connection.TRANSACTION_READ_UNCOMMITTED -> "READ UNCOMMITTED";
            case Connection.TRANSACTION_READ_COMMITTED -> "READ COMMITTED";
            case Connection.TRANSACTION_REPEATABLE_READ -> "REPEATABLE READ";
            case Connection.TRANSACTION_SERIALIZABLE -> "SERIALIZABLE";
            default -> "level " + level;
        };
    }
}
