package dev.vacancy.internal.dialect;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/** The text of a definition, cut into words, quoted names, texts and groups in parentheses: no parser, but enough to find a column in it. */
final class SqlWords {
    private static final Set<Character> QUOTES = Set.of('"', '`', '\'', '[');

    private static final Pattern INTRODUCER = Pattern.compile("[bBxXnNeE]|_\\w+");

    private SqlWords() {}

    /**
     * One word.
     *
     * @param text as it stands there
     * @param before blanks and comments before it
     */
    record Word(String text, String before) {
        /** A name in the quotes of the standard. */
        static Word quoted(String name, String before) {
            return new Word('"' + name.replace("\"", "\"\"") + '"', before);
        }

        boolean isGroup() {
            return text.startsWith("(");
        }

        boolean isText() {
            return text.endsWith("'");
        }

        /** The name that it says, without quotes. */
        String name() {
            char first = text.charAt(0);
            if (first == '"' || first == '`') {
                String quote = String.valueOf(first);
                return text.substring(1, text.length() - 1).replace(quote + quote, quote);
            }
            return first == '[' ? text.substring(1, text.length() - 1) : text;
        }

        boolean is(String keyword) {
            return text.equalsIgnoreCase(keyword);
        }

        boolean names(String name) {
            return !isText() && !isGroup() && name().equalsIgnoreCase(name);
        }

        List<Word> inside() {
            return SqlWords.of(text.substring(1, text.length() - 1));
        }
    }

    /** Cuts a text into its words; what stands in parentheses is one of them. */
    static List<Word> of(String sql) {
        List<Word> words = new ArrayList<>();
        int at = 0;
        while (at < sql.length()) {
            int start = afterBlanks(sql, at);
            if (start == sql.length()) {
                break;
            }
            int end = end(sql, start);
            words.add(new Word(sql.substring(start, end), sql.substring(at, start)));
            at = end;
        }
        return words;
    }

    private static int afterBlanks(String sql, int from) {
        int at = from;
        while (at < sql.length()) {
            if (Character.isWhitespace(sql.charAt(at))) {
                at++;
            } else if (sql.startsWith("--", at)) {
                int end = sql.indexOf('\n', at);
                at = end < 0 ? sql.length() : end + 1;
            } else if (sql.startsWith("/*", at)) {
                int end = sql.indexOf("*/", at);
                at = end < 0 ? sql.length() : end + 2;
            } else {
                return at;
            }
        }
        return at;
    }

    private static int end(String sql, int start) {
        char first = sql.charAt(start);
        if (QUOTES.contains(first)) {
            return afterQuoted(sql, start);
        }
        if (first == '(') {
            return afterGroup(sql, start);
        }
        int at = start;
        while (at < sql.length() && isPartOfWord(sql.charAt(at))) {
            at++;
        }
        // b'11', x'ff', _utf8mb4'x': what stands before the quotes belongs to the text.
        boolean text = at < sql.length()
                && sql.charAt(at) == '\''
                && INTRODUCER.matcher(sql).region(start, at).matches();
        return text ? afterQuoted(sql, at) : Math.max(at, start + 1);
    }

    private static boolean isPartOfWord(char character) {
        return Character.isLetterOrDigit(character) || character == '_' || character == '$' || character > 127;
    }

    private static int afterQuoted(String sql, int start) {
        char close = sql.charAt(start) == '[' ? ']' : sql.charAt(start);
        int at = start + 1;
        while (at < sql.length()) {
            if (sql.charAt(at) == close) {
                boolean doubled = close != ']' && at + 1 < sql.length() && sql.charAt(at + 1) == close;
                if (!doubled) {
                    return at + 1;
                }
                at++;
            }
            at++;
        }
        return sql.length();
    }

    private static int afterGroup(String sql, int start) {
        int at = start + 1;
        while (at < sql.length()) {
            at = afterBlanks(sql, at);
            if (at >= sql.length()) {
                break;
            }
            if (sql.charAt(at) == ')') {
                return at + 1;
            }
            at = end(sql, at);
        }
        return sql.length();
    }

    /** Whether any of the words, in groups too, is a name. */
    static boolean mention(List<Word> words, String name) {
        return words.stream().anyMatch(word -> word.isGroup() ? mention(word.inside(), name) : word.names(name));
    }

    /** Whether a text has a name among its words. */
    static boolean mention(String sql, String name) {
        return mention(of(sql), name);
    }

    /** Puts words together again, as they stood. */
    static String text(List<Word> words) {
        return words.stream().map(word -> word.before() + word.text()).collect(Collectors.joining());
    }

    /** Cuts what stands between commas. */
    static List<List<Word>> parts(List<Word> words) {
        List<List<Word>> parts = new ArrayList<>();
        List<Word> part = new ArrayList<>();
        for (Word word : words) {
            if (word.is(",")) {
                parts.add(part);
                part = new ArrayList<>();
            } else {
                part.add(word);
            }
        }
        parts.add(part);
        return parts;
    }

    /** The place of a keyword, from 0; -1 if it isn't there. */
    static int indexOf(List<Word> words, String keyword, int from) {
        for (int i = from; i < words.size(); i++) {
            if (words.get(i).is(keyword)) {
                return i;
            }
        }
        return -1;
    }

    /** The first group behind a place. */
    static List<Word> groupBehind(List<Word> words, int place) {
        return words.stream()
                .skip(place + 1L)
                .filter(Word::isGroup)
                .findFirst()
                .map(Word::inside)
                .orElse(List.of());
    }

    /** A name in small letters, where the database had folded it to large ones. */
    static String shown(String stored) {
        return stored.matches("[A-Z_][A-Z0-9_$]*") ? stored.toLowerCase(Locale.ROOT) : stored;
    }
}
