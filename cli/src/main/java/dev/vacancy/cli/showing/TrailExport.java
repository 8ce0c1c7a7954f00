package dev.vacancy.cli.showing;

import dev.vacancy.JsonForm;
import dev.vacancy.history.History;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.TrailEntry;
import java.io.IOException;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.regex.Pattern;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import tools.jackson.databind.json.JsonMapper;

/**
 * Writes entries of the audit trail, the oldest first, as JSON Lines, CSV (RFC 4180) or events of CloudEvents 1.0 in JSON, a line
 * each.
 */
public final class TrailExport {
    /** The forms. */
    public enum Form {
        /** An entry as a JSON object. */
        JSONL,
        /** An entry as a row. */
        CSV,
        /** An entry as an event. */
        CLOUDEVENTS
    }

    private static final JsonMapper JSON = JsonMapper.builder().build();

    private static final Pattern FORMULA = Pattern.compile("[=+\\-@\t\r]");
    private static final Pattern NUMBER = Pattern.compile("[+-]?[0-9.]+");
    private static final Pattern CONTROL = Pattern.compile("[\\p{Cntrl}\u0080-\u009f]");

    private final Form form;
    private final PrintStream out;

    public TrailExport(Form form, PrintStream out) {
        this.form = form;
        this.out = out;
    }

    public void write(History history, HistoryQuery query) {
        if (form != Form.CSV) {
            history.forEach(
                    query,
                    entry -> out.println(
                            JSON.writeValueAsString(form == Form.JSONL ? JsonForm.of(entry) : event(entry))));
            return;
        }
        try {
            CSVPrinter rows = new CSVPrinter(out, CSVFormat.RFC4180);
            rows.printRecord(
                    "run",
                    "step",
                    "place",
                    "action",
                    "table",
                    "key",
                    "actor",
                    "reason",
                    "colleague",
                    "at",
                    "before",
                    "after");
            history.forEach(query, entry -> row(rows, JsonForm.of(entry)));
            rows.flush();
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    private static void row(CSVPrinter rows, Map<String, Object> entry) {
        List<Object> cells = new ArrayList<>();
        entry.forEach((member, value) -> cells.add(
                switch (member) {
                    case "key", "actor", "reason", "colleague" -> cell((String) value);
                    case "before", "after" -> value == null ? null : JSON.writeValueAsString(value);
                    default -> value;
                }));
        try {
            rows.printRecord(cells);
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    /** A spreadsheet would carry out what begins like a formula; an apostrophe in front makes it text. */
    private static String cell(String text) {
        boolean formula = text != null
                && FORMULA.matcher(text).lookingAt()
                && !NUMBER.matcher(text).matches();
        return formula ? "'" + text : text;
    }

    /** No attribute of an event may hold control characters (CloudEvents 1.0.2, type system). */
    private static String attribute(String text) {
        return CONTROL.matcher(text)
                .replaceAll(found ->
                        String.format(Locale.ROOT, "%%%02X", (int) found.group().charAt(0)));
    }

    private static Map<String, Object> event(TrailEntry entry) {
        Map<String, Object> event = new LinkedHashMap<>();
        event.put("specversion", "1.0");
        event.put("id", entry.run() + "/" + entry.step() + "/" + entry.place());
        event.put("source", "urn:uuid:" + entry.run());
        event.put("type", "dev.vacancy.record." + entry.action());
        event.put("subject", attribute(entry.table() + "/" + entry.key()));
        event.put("time", entry.at().toString());
        event.put("datacontenttype", "application/json");
        event.put("data", JsonForm.of(entry));
        return event;
    }
}
