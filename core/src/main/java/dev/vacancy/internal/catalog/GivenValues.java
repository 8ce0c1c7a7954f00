package dev.vacancy.internal.catalog;

import java.nio.ByteBuffer;
import java.sql.Date;
import java.sql.Time;
import java.sql.Timestamp;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.util.HexFormat;

/** Takes the types that applications still have, or have by habit, for those that say the same in {@code java.time}. */
final class GivenValues {
    private GivenValues() {}

    static Object modern(Object given) {
        if (given instanceof Timestamp time) {
            return time.toLocalDateTime();
        }
        if (given instanceof Date date) {
            return date.toLocalDate();
        }
        if (given instanceof Time time) {
            return time.toLocalTime();
        }
        if (given instanceof java.util.Date date) {
            return date.toInstant().atOffset(ZoneOffset.UTC);
        }
        if (given instanceof Instant time) {
            return time.atOffset(ZoneOffset.UTC);
        }
        if (given instanceof ZonedDateTime time) {
            return time.toOffsetDateTime();
        }
        if (given instanceof byte[] bytes) {
            return ByteBuffer.wrap(bytes.clone()).asReadOnlyBuffer();
        }
        return given instanceof Enum<?> constant ? constant.name() : given;
    }

    /** What was given, for a person to recognise it. */
    static String text(Object given) {
        if (modern(given) instanceof ByteBuffer bytes) {
            byte[] copy = new byte[bytes.remaining()];
            bytes.duplicate().get(copy);
            return HexFormat.of().formatHex(copy);
        }
        return String.valueOf(given);
    }
}
