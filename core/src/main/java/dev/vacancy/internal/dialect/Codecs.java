package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.ColumnType;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;

/**
 * The codecs of a dialect, each chosen when its type is met first. Safe for use by many threads.
 *
 * @param <C> what the dialect's codecs have in common
 */
final class Codecs<C extends Codec> {
    private final Map<ColumnType, C> chosen = new ConcurrentHashMap<>();
    private final Function<ColumnType, C> choice;

    Codecs(Function<ColumnType, C> choice) {
        this.choice = choice;
    }

    C of(ColumnType type) {
        return chosen.computeIfAbsent(type, choice);
    }
}
