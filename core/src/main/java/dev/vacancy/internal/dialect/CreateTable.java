package dev.vacancy.internal.dialect;

import dev.vacancy.internal.dialect.SqlWords.Word;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/** The text that made a table of SQLite: its columns and what it says of them, each as it was written. */
final class CreateTable {
    private static final Set<String> OF_TABLE = Set.of("CONSTRAINT", "PRIMARY", "UNIQUE", "CHECK", "FOREIGN");
    private static final Set<String> BEGINNINGS = Set.of(
            "CONSTRAINT",
            "PRIMARY",
            "NOT",
            "NULL",
            "UNIQUE",
            "CHECK",
            "DEFAULT",
            "COLLATE",
            "REFERENCES",
            "GENERATED",
            "AS");

    private final List<List<Word>> parts;
    private final List<Word> end;

    private CreateTable(List<List<Word>> parts, List<Word> end) {
        this.parts = parts;
        this.end = end;
    }

    static CreateTable of(String sql) {
        List<Word> words = SqlWords.of(sql);
        int body = 0;
        while (!words.get(body).isGroup()) {
            body++;
        }
        return new CreateTable(
                SqlWords.parts(words.get(body).inside()).stream()
                        .map(CreateTable::named)
                        .toList(),
                words.subList(body + 1, words.size()));
    }

    /** A column may have its name in the quotes of a text (SQLite's documentation, "SQLite Keywords"). */
    private static List<Word> named(List<Word> part) {
        if (part.isEmpty() || !part.get(0).isText()) {
            return part;
        }
        List<Word> named = new ArrayList<>(part);
        String text = part.get(0).text();
        String name = text.substring(1, text.length() - 1).replace("''", "'");
        named.set(0, Word.quoted(name, part.get(0).before()));
        return named;
    }

    /** Whether a part defines a column. */
    private static boolean isColumn(List<Word> part) {
        String first = part.get(0).text();
        return !OF_TABLE.contains(first.toUpperCase(Locale.ROOT));
    }

    private static boolean isLink(List<Word> part) {
        return SqlWords.indexOf(part, "FOREIGN", 0) == (part.get(0).is("CONSTRAINT") ? 2 : 0) && !isColumn(part);
    }

    /** The words that define a column. */
    Optional<List<Word>> column(String name) {
        return parts.stream()
                .filter(part -> isColumn(part) && part.get(0).names(name))
                .findFirst();
    }

    /** The constraints of the table, those behind its columns. */
    List<List<Word>> constraints() {
        return parts.stream().filter(part -> !isColumn(part)).toList();
    }

    /** Those of its columns that are worked out from others which are named. */
    List<String> readersOf(String name) {
        return parts.stream()
                .filter(part -> isColumn(part) && !part.get(0).names(name))
                .filter(part -> SqlWords.mention(
                        withoutLinks(part).subList(1, withoutLinks(part).size()), name))
                .map(part -> part.get(0).name())
                .toList();
    }

    /** A definition cut where each of its constraints begins. */
    static List<List<Word>> segments(List<Word> column) {
        List<List<Word>> segments = new ArrayList<>();
        List<Word> segment = new ArrayList<>();
        for (int i = 0; i < column.size(); i++) {
            if (i > 0 && begins(column, i)) {
                segments.add(segment);
                segment = new ArrayList<>();
            }
            segment.add(column.get(i));
        }
        segments.add(segment);
        return segments;
    }

    private static boolean begins(List<Word> column, int place) {
        Word word = column.get(place);
        Word before = column.get(place - 1);
        if (word.text().charAt(0) == '"' || !BEGINNINGS.contains(word.text().toUpperCase(Locale.ROOT))) {
            return false;
        }
        boolean continues = before.is("SET") // ON DELETE SET NULL
                || before.is("NOT")
                || before.is("GENERATED")
                || before.is("ALWAYS")
                || before.is("CONSTRAINT")
                || (word.is("NOT")
                        && place + 1 < column.size()
                        && column.get(place + 1).is("DEFERRABLE"));
        boolean named = place >= 2 && column.get(place - 2).is("CONSTRAINT") && begins(column, place - 2);
        boolean isValue = before.is("DEFAULT");
        return !continues && !named && !isValue;
    }

    private static boolean isOf(List<Word> segment, String keyword) {
        return segment.get(0).is(keyword)
                || (segment.get(0).is("CONSTRAINT")
                        && segment.size() > 2
                        && segment.get(2).is(keyword));
    }

    private static List<Word> withoutLinks(List<Word> column) {
        return without(column, segment -> isOf(segment, "REFERENCES"));
    }

    /** The definition without some of its constraints. */
    private static List<Word> without(List<Word> column, Predicate<List<Word>> left) {
        List<List<Word>> segments = segments(column);
        List<Word> kept = new ArrayList<>(segments.get(0));
        segments.stream().skip(1).filter(left.negate()).forEach(kept::addAll);
        return kept;
    }

    /** Whether the column has a constraint of a kind. */
    static boolean has(List<Word> column, String keyword) {
        return segments(column).stream().skip(1).anyMatch(segment -> isOf(segment, keyword));
    }

    /** The same table under a name of its own, without its foreign keys. */
    String withoutLinks(String name) {
        return text(
                name,
                parts.stream()
                        .filter(part -> !isLink(part))
                        .map(part -> isColumn(part) ? withoutLinks(part) : part)
                        .toList());
    }

    /** The same table without its foreign keys to one parent, or to one column of it. */
    String withoutLinksTo(String name, String parent, Optional<String> column) {
        Predicate<List<Word>> leads = part -> {
            int references = SqlWords.indexOf(part, "REFERENCES", 0);
            return references >= 0
                    && part.get(references + 1).names(parent)
                    && column.map(wanted -> SqlWords.mention(SqlWords.groupBehind(part, references), wanted))
                            .orElse(true);
        };
        return text(
                name,
                parts.stream()
                        .filter(part -> isColumn(part) || !isLink(part) || !leads.test(part))
                        .map(part -> isColumn(part)
                                ? without(part, segment -> isOf(segment, "REFERENCES") && leads.test(segment))
                                : part)
                        .toList());
    }

    /** The same table with a column under another name, which nothing constrains. */
    String settingAside(String name, String column, String aside) {
        return text(
                name,
                parts.stream()
                        .filter(part -> isColumn(part) || !SqlWords.mention(ownNames(part), column))
                        .map(part -> isColumn(part) && part.get(0).names(column) ? renamed(part, aside) : part)
                        .toList());
    }

    /** Of a foreign key only what stands before the parent. */
    private static List<Word> ownNames(List<Word> part) {
        int references = SqlWords.indexOf(part, "REFERENCES", 0);
        return references < 0 ? part : part.subList(0, references);
    }

    private static List<Word> renamed(List<Word> column, String aside) {
        boolean hasDefault = has(column, "DEFAULT");
        List<Word> kept = new ArrayList<>(without(
                column,
                segment -> !isOf(segment, "DEFAULT")
                        && !isOf(segment, "COLLATE")
                        && !isOf(segment, "GENERATED")
                        && !isOf(segment, "AS")
                        && !(hasDefault && isOf(segment, "NOT"))));
        kept.set(0, Word.quoted(aside, column.get(0).before()));
        return kept;
    }

    /** Whether a value is always wanted, and none comes by itself. */
    boolean isRequired(List<Word> column) {
        return has(column, "NOT") && !has(column, "DEFAULT");
    }

    /** The same table with a column that may have no value, where none comes by itself. */
    String withoutNotNull(String name, String column) {
        return text(
                name,
                parts.stream()
                        .map(part -> isColumn(part) && part.get(0).names(column) && isRequired(part)
                                ? without(part, segment -> isOf(segment, "NOT"))
                                : part)
                        .toList());
    }

    /** The same table without a column that is set aside. */
    String dropping(String name, String column) {
        return text(
                name,
                parts.stream()
                        .filter(part -> !(isColumn(part) && part.get(0).names(column)))
                        .toList());
    }

    private String text(String name, List<List<Word>> kept) {
        String body = kept.stream().map(part -> SqlWords.text(part).strip()).collect(Collectors.joining(", "));
        return "create table " + name + " (" + body + ")" + SqlWords.text(end);
    }
}
