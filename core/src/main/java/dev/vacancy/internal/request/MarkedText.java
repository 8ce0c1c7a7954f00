package dev.vacancy.internal.request;

import dev.vacancy.Moment;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.regex.MatchResult;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * The text of a criteria in a form that a parser of SQL understands: SQL has no word for moments such as {@code today - 90
 * days}, so a marked text stands in the place of each. No user can type the mark.
 */
final class MarkedText {
    /** A text in quotes, or a moment outside of quotes. */
    private static final Pattern QUOTED_OR_MOMENT = Pattern.compile(
            "'[^']*+(?:''[^']*+)*+'|\"[^\"]*+(?:\"\"[^\"]*+)*+\""
                    + "|(?i:(?<![\\w.\"])(?:today|now)(?![\\w(.\"])(?:\\s*[+-]\\s*[0-9]{1,6}\\s*(?:hour|day|week|month|year)s?\\b)?)");

    private static final Pattern TOKEN = Pattern.compile("\\w+|\\S");

    private final String text;
    private final String readable;
    private final Map<String, Moment> moments = new LinkedHashMap<>();

    MarkedText(String text) {
        this.text = text;
        Matcher found = QUOTED_OR_MOMENT.matcher(text);
        StringBuilder marked = new StringBuilder();
        while (found.find()) {
            String part = found.group();
            if (isQuoted(part)) {
                found.appendReplacement(marked, Matcher.quoteReplacement(part));
            } else {
                String mark = mark(moments.size());
                moments.put(mark, Moment.parse(part));
                found.appendReplacement(marked, "'" + mark + "'");
            }
        }
        this.readable = found.appendTail(marked).toString();
    }

    /** The text as the parser gets it. */
    String readable() {
        return readable;
    }

    /** The moment that a text stands for, if it is a mark. */
    Optional<Moment> moment(String value) {
        return Optional.ofNullable(moments.get(value));
    }

    /** Turns a position in the readable text, counted from 1, into one in the text as it was typed. */
    int typed(int position) {
        int shift = 0;
        int number = 0;
        Matcher found = QUOTED_OR_MOMENT.matcher(text);
        while (found.find() && found.start() + 1 - shift < position) {
            if (!isQuoted(found.group())) {
                shift += found.group().length() - mark(number).length() - 2;
                number++;
            }
        }
        return position + shift;
    }

    /** Finds a part of the parsed tree in the text as it was typed: the tree forgets blanks and the case of words. */
    Optional<MatchResult> place(String parsed) {
        String part = parsed;
        for (Map.Entry<String, Moment> moment : moments.entrySet()) {
            part = part.replace("'" + moment.getKey() + "'", moment.getValue().toString());
        }
        String words = TOKEN.matcher(part)
                .results()
                .map(token -> Pattern.quote(token.group()))
                .collect(Collectors.joining("\\s*"));
        return Pattern.compile(words, Pattern.CASE_INSENSITIVE | Pattern.UNICODE_CASE)
                .matcher(text)
                .results()
                .findFirst();
    }

    private static boolean isQuoted(String part) {
        return part.startsWith("'") || part.startsWith("\"");
    }

    private static String mark(int number) {
        return "\u0001" + number;
    }
}
