package dev.vacancy.property;

import java.util.Random;

/**
 * The seed of random cases. A build tries the same ones each time; {@code -Dvacancy.test.seed=0} tries others, and any other
 * number those from that seed on.
 */
final class Seed {
    private static final long USUAL = 20_261_123L;

    private Seed() {}

    static long next() {
        long given = Long.getLong("vacancy.test.seed", USUAL);
        return given == 0 ? new Random().nextLong() : given;
    }

    /** How many cases are tried; {@code -Dvacancy.test.cases=20000} makes a long run. */
    static int cases() {
        return Integer.getInteger("vacancy.test.cases", 30);
    }
}
