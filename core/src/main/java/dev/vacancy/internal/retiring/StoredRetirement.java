package dev.vacancy.internal.retiring;

import dev.vacancy.internal.dialect.Retiree;
import dev.vacancy.retirement.Retired;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * A retirement as it stands in our table.
 *
 * @param retired what people are told of it
 * @param retiree the names as stored
 * @param done how many changes were begun; {@link #MADE} while it comes back from its files
 * @param script how it comes back
 * @param textAside what was there once it was set aside, where that must not change
 * @param files definition and content, once they are written
 */
record StoredRetirement(
        Retired retired, Retiree retiree, int done, Script script, Optional<String> textAside, Optional<Files> files) {
    /** Stands for the number of changes once it was made again from its files. */
    static final int MADE = -1;

    /**
     * The files of a drop.
     *
     * @param definition SQL
     * @param content JSON Lines
     * @param digests SHA-256 of each, hexadecimal
     * @param records how many lines
     */
    record Files(Path definition, Path content, List<String> digests, long records) {
        List<Path> paths() {
            return List.of(definition, content);
        }
    }
}
