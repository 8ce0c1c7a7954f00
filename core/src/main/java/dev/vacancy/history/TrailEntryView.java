package dev.vacancy.history;

import dev.vacancy.internal.dialect.Bytes;
import java.nio.ByteBuffer;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * An entry of the audit trail for programs.
 *
 * @param run the run's id
 * @param step the step of the run
 * @param place its number in that step
 * @param action what happened to the record
 * @param table the record's table
 * @param key its key
 * @param actor who wanted it
 * @param reason why, or null
 * @param colleague who agreed besides, or null
 * @param at when, as in ISO 8601, UTC
 * @param before the record before that, or null once its content was erased; bytes as hexadecimal digits
 * @param after what columns were set to, or null if the record went
 * @since 0.1
 */
public record TrailEntryView(
        String run,
        int step,
        long place,
        String action,
        String table,
        String key,
        String actor,
        String reason,
        String colleague,
        String at,
        Map<String, Object> before,
        Map<String, Object> after) {
    static TrailEntryView of(TrailEntry entry) {
        return new TrailEntryView(
                entry.run().toString(),
                entry.step(),
                entry.place(),
                entry.action(),
                entry.table(),
                entry.key(),
                entry.by().actor(),
                entry.by().reason().orElse(null),
                entry.colleague().orElse(null),
                entry.at().toString(),
                entry.before().map(TrailEntryView::plain).orElse(null),
                entry.after().map(TrailEntryView::plain).orElse(null));
    }

    private static Map<String, Object> plain(Map<String, Object> values) {
        Map<String, Object> plain = new LinkedHashMap<>();
        values.forEach((name, value) -> plain.put(name, plain(value)));
        return plain;
    }

    private static Object plain(Object value) {
        if (value instanceof ByteBuffer bytes) {
            return Bytes.hex(bytes);
        }
        return value instanceof List<?> list
                ? list.stream().map(TrailEntryView::plain).toList()
                : value;
    }
}
