package dev.vacancy.internal.request;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.Exemption;
import java.time.Duration;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.Consumer;

/** What an application has given as {@link BulkOptions}. */
public record GivenBulkOptions(
        Optional<String> name,
        OptionalInt chunk,
        Duration targetDuration,
        long maxPerTransaction,
        Duration pause,
        long tolerance,
        boolean stopAtFailure,
        Exemption exemption,
        boolean asSelected)
        implements BulkOptions {
    public static final Duration USUAL_TARGET = Duration.ofMillis(500);
    public static final long USUAL_LARGEST = 20_000;

    /** Refuses what makes no sense. */
    public GivenBulkOptions {
        if (chunk.isPresent() && (chunk.getAsInt() < 1 || chunk.getAsInt() > Plan.MOST_ROOTS)) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "A chunk can't have " + chunk.getAsInt() + " records.",
                    "Take 1 to " + Plan.MOST_ROOTS + ".");
        }
        if (targetDuration.isNegative()
                || targetDuration.isZero()
                || pause.isNegative()
                || tolerance < 0
                || maxPerTransaction < 1) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "A bulk run can't aim at " + targetDuration + ", pause for " + pause + " or tolerate " + tolerance
                            + " records.",
                    "Give a targetDuration above zero, and no negative numbers.");
        }
    }

    /**
     * Returns options that differ from others.
     *
     * @param options the others
     * @param change sets what differs
     * @return the options with that
     */
    public static BulkOptions changed(BulkOptions options, Consumer<Draft> change) {
        Draft draft = new Draft(options);
        change.accept(draft);
        return draft.options();
    }

    /** Options that can still be changed. */
    public static final class Draft {
        public Optional<String> name;
        public OptionalInt chunk;
        public Duration targetDuration;
        public long maxPerTransaction;
        public Duration pause;
        public long tolerance;
        public boolean stopAtFailure;
        public Exemption exemption;
        public boolean asSelected;

        private Draft(BulkOptions options) {
            name = options.name();
            chunk = options.chunk();
            targetDuration = options.targetDuration();
            maxPerTransaction = options.maxPerTransaction();
            pause = options.pause();
            tolerance = options.tolerance();
            stopAtFailure = options.stopAtFailure();
            exemption = options.exemption();
            asSelected = options.asSelected();
        }

        private BulkOptions options() {
            return new GivenBulkOptions(
                    name,
                    chunk,
                    targetDuration,
                    maxPerTransaction,
                    pause,
                    tolerance,
                    stopAtFailure,
                    exemption,
                    asSelected);
        }
    }
}
