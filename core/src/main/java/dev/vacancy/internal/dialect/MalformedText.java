package dev.vacancy.internal.dialect;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;

/**
 * A text whose bytes aren't UTF-8, which some databases keep as they were given.
 *
 * @param bytes the bytes
 * @since 0.1
 */
public record MalformedText(ByteBuffer bytes) {
    /** {@return what of it can be read, with U+FFFD for the rest} */
    @Override
    public String toString() {
        return StandardCharsets.UTF_8.decode(bytes.duplicate()).toString();
    }
}
