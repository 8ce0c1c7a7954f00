package dev.vacancy.internal.retiring;

import dev.vacancy.internal.trail.Chain;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;

/** A digest of lines that doesn't depend on their order: the sum of those of each (SHA-256, FIPS 180-4). */
final class LineSum {
    private BigInteger sum = BigInteger.ZERO;

    void add(String line) {
        sum = sum.add(new BigInteger(1, Chain.sha256().digest(line.getBytes(StandardCharsets.UTF_8))));
    }

    boolean isSame(LineSum other) {
        return sum.equals(other.sum);
    }
}
