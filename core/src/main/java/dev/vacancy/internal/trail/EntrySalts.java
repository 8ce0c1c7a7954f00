package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import java.nio.ByteBuffer;
import java.security.SecureRandom;
import java.util.List;

/**
 * Gives each entry of a step bytes of its own to be digested with, so that nobody can guess from its digest what was erased: the
 * beginning of a digest of a secret, which isn't kept, and the entry's place.
 */
final class EntrySalts {
    /** How many bytes a digest has. */
    static final int DIGEST = 32;

    private static final int SALT = 16;
    private static final SecureRandom RANDOM = new SecureRandom();

    private final byte[] secret = new byte[DIGEST];

    EntrySalts() {
        RANDOM.nextBytes(secret);
    }

    ByteBuffer salt(long place) {
        ByteBuffer whole = new FramedDigest()
                .bytes(ByteBuffer.wrap(secret))
                .plain(String.valueOf(place))
                .end();
        return whole.slice(0, SALT);
    }

    /** Says the same in the database's own words. */
    Fragment salt(String place, Dialect dialect) {
        String text = dialect.bytesOf("cast(" + place + " as " + dialect.textType() + ")");
        return Fragment.of(
                "substr(" + dialect.digestOf(dialect.joinedBytes(List.of(dialect.boundBytes(), text))) + ", 1, " + SALT
                        + ")",
                Binding.of(ByteBuffer.wrap(secret)));
    }
}
