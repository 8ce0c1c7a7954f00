package dev.vacancy.cli.showing;

import dev.vacancy.cli.terminal.Columns;
import dev.vacancy.followup.FollowUpMessage;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** Writes messages that were not handled yet, for people. */
public final class FollowUpText {
    private static final int SHORT_ID = 8;

    private FollowUpText() {}

    /** A table of messages. */
    public static String of(List<FollowUpMessage> messages) {
        if (messages.isEmpty()) {
            return "Everything that follows was handled.";
        }
        List<List<String>> rows = new ArrayList<>();
        rows.add(List.of("message", "follow-up", "what happened", "state", "attempts", "due", "failure"));
        for (FollowUpMessage message : messages) {
            rows.add(List.of(
                    message.id().toString().substring(0, SHORT_ID),
                    message.followUp(),
                    what(message),
                    message.state().toString(),
                    String.valueOf(message.attempts()),
                    message.dueAt().truncatedTo(ChronoUnit.SECONDS).toString(),
                    message.failure().orElse("")));
        }
        return Columns.of(rows);
    }

    /** All that a message says. */
    public static String of(FollowUpMessage message) {
        List<String> lines = new ArrayList<>();
        lines.add("Message " + message.id() + " for " + message.followUp() + ": " + what(message) + ", "
                + message.state());
        lines.add("  by " + message.by().actor()
                + message.by().reason().map(why -> ", because: " + why).orElse("") + ", at "
                + message.at().truncatedTo(ChronoUnit.SECONDS));
        lines.add("  run " + message.run());
        message.before().ifPresent(values -> lines.add("  before: " + values(values)));
        message.after().ifPresent(values -> lines.add("  after: " + values(values)));
        lines.add("  tried " + message.attempts() + (message.attempts() == 1 ? " time" : " times") + ", due "
                + message.dueAt().truncatedTo(ChronoUnit.SECONDS));
        message.failure().ifPresent(failure -> lines.add("  failure: " + failure));
        return String.join(System.lineSeparator(), lines);
    }

    private static String what(FollowUpMessage message) {
        return message.table() + message.key().map(key -> " " + key).orElse("") + " " + message.action();
    }

    private static String values(Map<String, Object> values) {
        return values.entrySet().stream()
                .map(value -> value.getKey() + " = " + value.getValue())
                .collect(Collectors.joining(", "));
    }
}
