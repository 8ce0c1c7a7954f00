package dev.vacancy.cli.selecting;

import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Sample;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.cli.terminal.LineEditor;
import dev.vacancy.cli.terminal.PlainText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.engine.Engine;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** A numbered list of records, to search in and to pick from. */
public final class PickingList {
    private static final int ELEMENTS_SHOWN = 3;

    private static final int SHOWN = 20;
    private static final Pattern RANGE = Pattern.compile("([0-9]{1,3})(?:-([0-9]{1,3}))?");

    private final Vacancy vacancy;
    private final Table table;
    private final By by;
    private final Surroundings surroundings;
    private Optional<String> search = Optional.empty();

    public PickingList(Vacancy vacancy, Table table, By by, Surroundings surroundings) {
        this.vacancy = vacancy;
        this.table = table;
        this.by = by;
        this.surroundings = surroundings;
    }

    /**
     * Shows the list and takes what is picked.
     *
     * @return the picked records; empty if somebody leaves
     */
    public Optional<Selection> pick() {
        try (LineEditor editor = LineEditor.open()) {
            List<RecordContent> records = show();
            while (true) {
                String said = editor.read("Numbers such as 1, 3-5; /text to search; ?1 to see one; q to leave: ")
                        .map(String::strip)
                        .orElse("q");
                if (said.equals("q")) {
                    return Optional.empty();
                }
                if (said.startsWith("/")) {
                    Optional<String> text =
                            Optional.of(said.substring(1).strip()).filter(any -> !any.isEmpty());
                    if (text.isPresent() && having(text.get()).isEmpty()) {
                        surroundings.err().println("No column of " + table + " has text to search in.");
                    } else {
                        search = text;
                        records = show();
                    }
                } else if (said.startsWith("?")) {
                    numbers(said.substring(1), records.size()).stream()
                            .map(records::get)
                            .forEach(this::whole);
                } else if (!said.isEmpty()) {
                    Set<Integer> picked = numbers(said, records.size());
                    if (!picked.isEmpty()) {
                        return Optional.of(
                                selection(picked.stream().map(records::get).toList()));
                    }
                }
            }
        }
    }

    private Selection selection(List<RecordContent> records) {
        List<Key> keys = records.stream().map(RecordContent::key).toList();
        return Selection.of(table.name()).keys(keys.stream().map(Key::values).toList());
    }

    private List<RecordContent> show() {
        List<RecordContent> found = vacancy.list(looked(), by, SHOWN + 1);
        List<RecordContent> shown = found.subList(0, Math.min(SHOWN, found.size()));
        String where = search.map(text -> " with '" + text + "'").orElse("");
        if (shown.isEmpty()) {
            surroundings.out().println("There is nothing in " + table + where + ".");
        } else if (found.size() > SHOWN) {
            surroundings.out().println("The first " + SHOWN + " of " + table + where + "; search for others:");
        } else {
            surroundings.out().println(table + where + ":");
        }
        for (int i = 0; i < shown.size(); i++) {
            surroundings.out().printf("%4d  %s%n", i + 1, Sample.of(shown.get(i)));
        }
        return shown;
    }

    /** What is active, and has the searched text in one of its columns. */
    private Selection looked() {
        List<Criteria> parts = new ArrayList<>();
        Engine.rulesOf(vacancy).active(table).ifPresent(parts::add);
        search.flatMap(this::having).ifPresent(parts::add);
        Optional<Criteria> all = parts.stream().reduce(Criteria::and);
        return all.isPresent()
                ? Selection.of(table.name()).where(all.get())
                : Selection.of(table.name()).allRecords();
    }

    private Optional<Criteria> having(String text) {
        List<Criteria> ways = new ArrayList<>();
        for (Column column : table.columns()) {
            if (ColumnType.of(column).isText()) {
                ways.add(Criteria.column(column.name()).like("%" + text + "%"));
            }
        }
        if (table.identity().size() == 1
                && !ColumnType.of(table.identity().get(0)).isText()
                && text.matches("[0-9]{1,18}")) {
            ways.add(Criteria.column(table.identity().get(0).name()).equalTo(text));
        }
        return ways.stream().reduce(Criteria::or);
    }

    private void whole(RecordContent record) {
        surroundings.out().println(table + " " + Sample.of(record));
        surroundings.out().println(PlainText.of(record.plainValues(), "  ", ELEMENTS_SHOWN));
    }

    /** The places in the list that somebody names; none if something of it can't be understood. */
    private Set<Integer> numbers(String said, int size) {
        Set<Integer> places = new TreeSet<>();
        for (String part : said.split("[,\\s]+", -1)) {
            Matcher range = RANGE.matcher(part);
            int first = range.matches() ? Integer.parseInt(range.group(1)) : 0;
            int last = first > 0 && range.group(2) != null ? Integer.parseInt(range.group(2)) : first;
            if (first < 1 || last < first || last > size) {
                surroundings
                        .err()
                        .println("'" + part + "' is no number of the list, which goes from 1 to " + size + ".");
                return Set.of();
            }
            for (int number = first; number <= last; number++) {
                places.add(number - 1);
            }
        }
        return places;
    }
}
