package dev.vacancy.cli.terminal;

import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.PushbackInputStream;
import java.io.Reader;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/** Text that comes from outside, in UTF-8 (RFC 3629) and nothing else: a letter that is read wrongly selects other records. */
public final class Utf8Text {
    private static final byte[] UTF_8_MARK = {(byte) 0xEF, (byte) 0xBB, (byte) 0xBF};
    private static final char REPLACEMENT = '\uFFFD';

    private Utf8Text() {}

    /** The file says by its first two bytes that it is in UTF-16. */
    public static final class OtherEncoding extends IOException {
        private static final long serialVersionUID = 1L;
    }

    /** Reads strictly, and passes over a byte order mark. */
    public static Reader reading(InputStream bytes) throws IOException {
        PushbackInputStream text = new PushbackInputStream(bytes, UTF_8_MARK.length);
        byte[] start = text.readNBytes(UTF_8_MARK.length);
        if (start.length >= 2 && (isMark(start, 0xFE, 0xFF) || isMark(start, 0xFF, 0xFE))) {
            throw new OtherEncoding();
        }
        if (!Arrays.equals(start, UTF_8_MARK)) {
            text.unread(start);
        }
        return new InputStreamReader(
                text,
                StandardCharsets.UTF_8
                        .newDecoder()
                        .onMalformedInput(CodingErrorAction.REPORT)
                        .onUnmappableCharacter(CodingErrorAction.REPORT));
    }

    private static boolean isMark(byte[] start, int first, int second) {
        return (start[0] & 0xFF) == first && (start[1] & 0xFF) == second;
    }

    /** What a file is that isn't in UTF-8, as far as that can be told. */
    public static String perhaps(Exception failure) {
        return failure instanceof OtherEncoding
                ? ", but in UTF-16"
                : "; perhaps it is in Latin-1 or a code page of Windows";
    }

    /** Refuses words that have lost a letter on their way here, as those of a command line do in a locale without it. */
    public static void requireWhole(String... words) {
        for (String word : words) {
            if (word.indexOf(REPLACEMENT) >= 0) {
                throw ToolException.wrongUsage(
                        "The argument '" + word
                                + "' has lost a letter on its way: it isn't UTF-8, or the locale isn't.",
                        "Set a locale of UTF-8, such as LC_ALL=C.UTF-8, or call the tool by its launcher.");
            }
        }
    }
}
