package dev.vacancy.internal.dialect;

import java.nio.ByteBuffer;
import java.util.HexFormat;

/**
 * Bytes as text: two lower-case hexadecimal digits for each.
 *
 * @since 0.1
 */
public final class Bytes {
    private Bytes() {}

    /**
     * Writes bytes.
     *
     * @param bytes the bytes, which stay unread
     * @return their digits
     */
    public static String hex(ByteBuffer bytes) {
        byte[] copy = new byte[bytes.remaining()];
        bytes.duplicate().get(copy);
        return HexFormat.of().formatHex(copy);
    }

    /**
     * Reads bytes.
     *
     * @param digits hexadecimal digits, two for each byte
     * @return the bytes, for reading only
     */
    public static ByteBuffer of(String digits) {
        return ByteBuffer.wrap(HexFormat.of().parseHex(digits)).asReadOnlyBuffer();
    }
}
