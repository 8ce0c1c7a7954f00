package dev.vacancy.handlers;

import dev.vacancy.By;
import dev.vacancy.followup.FollowUpAction;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.followup.FollowUpState;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/** Messages as a worker hands them over. */
final class Messages {
    private Messages() {}

    static FollowUpMessage of(FollowUpAction action, Map<String, Object> values) {
        boolean back = action == FollowUpAction.RESTORED;
        Instant at = Instant.parse("2026-03-01T08:00:00Z");
        return new FollowUpMessage(
                UUID.fromString("6d2f0c1e-0000-3000-8000-000000000010"),
                "files",
                action,
                "photo",
                Optional.of("10"),
                back ? Optional.empty() : Optional.of(values),
                back ? Optional.of(values) : Optional.empty(),
                UUID.fromString("6d2f0c1e-0000-4000-8000-000000000001"),
                By.user("odile").because("sold"),
                at,
                FollowUpState.OPEN,
                0,
                at,
                Optional.empty());
    }
}
