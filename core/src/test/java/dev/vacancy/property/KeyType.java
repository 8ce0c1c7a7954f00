package dev.vacancy.property;

import dev.vacancy.testing.Engine;
import java.sql.Timestamp;
import java.time.LocalDateTime;
import java.util.List;

/** What the keys of a world are: each record's number, or a value of which another record has the nearest neighbour. */
enum KeyType {
    /** The number itself. */
    INT,
    /** Numbers that no double tells apart. */
    BIGINT,
    /** Numbers that no signed type holds, where the database has unsigned ones. */
    UNSIGNED,
    /** Numbers that differ in their last decimal. */
    DECIMAL,
    /** Text that differs in case, in blanks and in how a letter is composed. */
    TEXT,
    /** Times that differ in the sixth digit behind the second. */
    TIMESTAMP;

    private static final List<String> TEXTS = List.of("zz", "a", "A", "a ", " a", "ä", "b", "B", "a\u0308");

    /** The column's type, in the words of a database. */
    String sql(Engine engine) {
        return switch (this) {
            case INT -> "int";
            case BIGINT -> "bigint";
            case UNSIGNED -> engine == Engine.MARIADB ? "bigint unsigned" : "numeric(20)";
            case DECIMAL -> "numeric(10, 2)";
            case TEXT -> "varchar(10)" + (engine == Engine.MARIADB ? " collate utf8mb4_nopad_bin" : "");
            case TIMESTAMP -> engine == Engine.MARIADB ? "datetime(6)" : "timestamp(6)";
        };
    }

    /** The value that stands for a record's number, from 0 to 8, as text. */
    String text(int number) {
        return switch (this) {
            case INT -> String.valueOf(number);
            case BIGINT -> "922337203685477579" + number;
            case UNSIGNED -> "1844674407370955160" + number;
            case DECIMAL -> "10.0" + number;
            case TEXT -> TEXTS.get(number);
            case TIMESTAMP -> "2026-05-01 08:00:00.00000" + number;
        };
    }

    /** The same as a literal. */
    String literal(int number) {
        return switch (this) {
            case INT, BIGINT, UNSIGNED, DECIMAL -> text(number);
            case TEXT, TIMESTAMP -> "'" + text(number) + "'";
        };
    }

    /** The number that a value stands for. */
    int numberOf(Object value) {
        String shown =
                value instanceof LocalDateTime time ? Timestamp.valueOf(time).toString() : String.valueOf(value);
        for (int number = 0; number < TEXTS.size(); number++) {
            if (text(number).equals(shown)) {
                return number;
            }
        }
        throw new IllegalArgumentException(shown);
    }

    /** The most that SQLite keeps apart is a double, or a whole number of 64 bits. */
    KeyType on(Engine engine) {
        return this == UNSIGNED && engine == Engine.SQLITE ? BIGINT : this;
    }
}
