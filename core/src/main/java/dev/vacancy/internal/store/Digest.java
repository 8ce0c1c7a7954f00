package dev.vacancy.internal.store;

import java.nio.ByteBuffer;
import java.util.HexFormat;

/**
 * The 256 bits of a digest.
 *
 * @param first the first 64 of them
 * @param second the next
 * @param third the next
 * @param fourth the last
 * @since 0.1
 */
public record Digest(long first, long second, long third, long fourth) {
    static final Digest NONE = new Digest(0, 0, 0, 0);

    static Digest of(byte[] bytes) {
        ByteBuffer numbers = ByteBuffer.wrap(bytes);
        return new Digest(numbers.getLong(), numbers.getLong(), numbers.getLong(), numbers.getLong());
    }

    /** Adds number by number, each modulo 2 to the power of 64, so that the order of what is added doesn't matter. */
    Digest plus(Digest other) {
        return new Digest(first + other.first, second + other.second, third + other.third, fourth + other.fourth);
    }

    String hex() {
        HexFormat hex = HexFormat.of();
        return hex.toHexDigits(first) + hex.toHexDigits(second) + hex.toHexDigits(third) + hex.toHexDigits(fourth);
    }
}
