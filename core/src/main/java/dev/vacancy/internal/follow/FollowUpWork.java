package dev.vacancy.internal.follow;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.followup.FollowUpState;
import dev.vacancy.followup.FollowUps;
import dev.vacancy.followup.TryLaterException;
import dev.vacancy.internal.request.Most;
import dev.vacancy.internal.rules.Rules;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Hands messages over to the handlers of an application. */
public final class FollowUpWork implements FollowUps {
    /** For how long nobody else takes a message that somebody handles. */
    static final Duration LEASE = Duration.ofMinutes(5);

    private static final Logger LOG = LoggerFactory.getLogger(FollowUps.class);
    /** What was handled and not noted when a process dies is handed over once more. */
    private static final Duration LONGEST_UNNOTED = Duration.ofMillis(200);

    private static final int AT_ONCE = 100;
    private static final Duration FIRST_DELAY = Duration.ofSeconds(10);
    private static final Duration LONGEST_DELAY = Duration.ofHours(1);
    private static final int LONGER_EACH_TIME = 3;

    private final Rules rules;
    private final MessageStore messages;
    private final Clock clock;
    private final FollowUpHandlers handlers;

    /**
     * Prepares to work.
     *
     * @param rules the rules, with follow-ups among them
     * @param messages where messages wait
     * @param clock tells what is due
     * @param handlers who handles messages, by the names of follow-ups
     */
    public FollowUpWork(Rules rules, MessageStore messages, Clock clock, FollowUpHandlers handlers) {
        this.rules = rules;
        this.messages = messages;
        this.clock = clock;
        this.handlers = handlers;
    }

    /** {@return that there is nothing to be done, ever} */
    public static InvalidRequestException nothingFollows() {
        return new InvalidRequestException(
                FailureCode.USAGE,
                "Nothing follows runs: the rules name no follow-up.",
                "Add one: RuleBook.followUp(…), or 'follow-ups' in vacancy.yaml.");
    }

    @Override
    public long work() {
        if (handlers.byName().isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "Nobody handles what follows.",
                    "Add a handler: vacancy.withFollowUp(name, handler).followUps().work().");
        }
        long handled = 0;
        for (Map.Entry<String, FollowUpHandler> each : handlers.byName().entrySet()) {
            handled += work(each.getKey(), each.getValue());
        }
        return handled;
    }

    private long work(String name, FollowUpHandler handler) {
        long handled = 0;
        boolean more = true;
        while (more && !Thread.currentThread().isInterrupted()) {
            Instant now = clock.instant();
            MessageStore.Taken taken = messages.take(name, now, now.plus(LEASE), AT_ONCE);
            handled += handOver(taken.messages(), handler);
            more = taken.more() || !taken.messages().isEmpty();
        }
        return handled;
    }

    /** Whoever has used up half of the time gives back what is left, before somebody else takes it. */
    private long handOver(List<FollowUpMessage> claimed, FollowUpHandler handler) {
        Instant until = clock.instant().plus(LEASE.dividedBy(2));
        try (Handled handled = new Handled()) {
            for (FollowUpMessage message : claimed) {
                if (clock.instant().isAfter(until) || Thread.currentThread().isInterrupted()) {
                    messages.release(message.id(), message.dueAt());
                } else if (isHandled(message, handler)) {
                    handled.add(message);
                }
            }
            return handled.count;
        }
    }

    /** What was handled is noted at once where it takes time, and together where it doesn't. */
    private final class Handled implements AutoCloseable {
        private final List<UUID> open = new ArrayList<>();
        private long noted = System.nanoTime();
        private long count;

        void add(FollowUpMessage message) {
            open.add(message.id());
            count++;
            if (System.nanoTime() - noted > LONGEST_UNNOTED.toNanos()) {
                close();
            }
        }

        @Override
        public void close() {
            if (!open.isEmpty()) {
                messages.remove(List.copyOf(open));
            }
            open.clear();
            noted = System.nanoTime();
        }
    }

    private boolean isHandled(FollowUpMessage message, FollowUpHandler handler) {
        try {
            handler.handle(message);
        } catch (InterruptedException interrupted) {
            Thread.currentThread().interrupt();
            failed(message, "interrupted", Duration.ZERO);
            return false;
        } catch (TryLaterException later) {
            failed(message, words(later), later.delay());
            return false;
        } catch (Exception failure) {
            failed(message, words(failure), Duration.ZERO);
            return false;
        }
        return true;
    }

    private void failed(FollowUpMessage message, String failure, Duration delay) {
        boolean last = message.attempts() + 1 >= MOST_ATTEMPTS;
        Duration longer = FIRST_DELAY.multipliedBy((long) Math.pow(LONGER_EACH_TIME, message.attempts()));
        Duration usual = longer.compareTo(LONGEST_DELAY) < 0 ? longer : LONGEST_DELAY;
        Instant due = clock.instant().plus(usual.compareTo(delay) < 0 ? delay : usual);
        LOG.warn(
                "{} of {} {} wasn't handled by {}: {}. {}",
                message.action(),
                message.table(),
                message.key().orElse("without a key"),
                message.followUp(),
                failure,
                last ? "It waits for somebody to send it again" : "It is tried again at " + due);
        messages.fail(message.id(), last ? FollowUpState.FAILED : FollowUpState.OPEN, due, failure);
    }

    private static String words(Exception failure) {
        return failure.getMessage() == null ? failure.getClass().getSimpleName() : failure.getMessage();
    }

    @Override
    public List<FollowUpMessage> list(int most) {
        Most.require(most);
        takeDown();
        return messages.list(most);
    }

    @Override
    public long count(FollowUpState state) {
        if (state == FollowUpState.OPEN) {
            takeDown();
        }
        return messages.count(state);
    }

    @Override
    public FollowUpMessage find(UUID id) {
        return messages.find(id).orElseThrow(() -> unknown(id));
    }

    @Override
    public void again(UUID id) {
        require(id, messages.again(id, clock.instant()));
    }

    @Override
    public void giveUp(UUID id) {
        require(id, messages.remove(List.of(id)) > 0);
    }

    /** What the trail tells and nobody has read yet is open too. */
    private void takeDown() {
        takeDown(rules, messages);
    }

    /**
     * Takes down all that the trail tells by now.
     *
     * @param rules the rules, with follow-ups among them
     * @param messages where messages wait
     */
    public static void takeDown(Rules rules, MessageStore messages) {
        for (String name : TrailMessages.names(rules)) {
            boolean more = true;
            while (more) {
                more = messages.readOn(name);
            }
        }
    }

    private static void require(UUID id, boolean found) {
        if (!found) {
            throw unknown(id);
        }
    }

    private static InvalidRequestException unknown(UUID id) {
        return new InvalidRequestException(
                FailureCode.UNKNOWN_RUN,
                "There is no message " + id + ".",
                "List those that there are; a message that was handled is gone.");
    }
}
