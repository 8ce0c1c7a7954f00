package dev.vacancy.web;

import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.VacancyException;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Function;
import java.util.function.Supplier;

/** Deletions that are being carried out or were lately: whoever clicks twice learns what came of the first click. */
final class OngoingRuns {
    private static final int LOCKED = 423;
    private static final int MOST = 1_000;
    private static final int MOST_OF_ONE = 20;
    private static final long LARGEST = 32_000_000;
    private static final long LARGEST_OF_ONE = 4_000_000;
    private static final long PATIENCE_SECONDS = 60;

    private final Map<String, Run> running = new ConcurrentHashMap<>();
    private final RecentItems<String, Run> done = new RecentItems<>(
            new RecentItems.Bounds(MOST, LARGEST), new RecentItems.Bounds(MOST_OF_ONE, LARGEST_OF_ONE));

    /** One of them. A fingerprint is of database, rules, request and all that goes; the person is asked for as well. */
    private record Run(Selection selection, By by, CompletableFuture<Outcome> outcome) {
        boolean isOf(Selection other, By whose) {
            return selection.equals(other) && by.actor().equals(whose.actor()) && by.isProgram() == whose.isProgram();
        }
    }

    /** Whether the same deletion is being carried out at the moment. */
    boolean isGoingOn(AgreedFingerprints agreed, Selection selection, By by) {
        return find(running::get, agreed, selection, by).isPresent();
    }

    /** What came of the same deletion, or comes of it just now, if it was carried out. */
    Optional<Outcome> outcome(AgreedFingerprints agreed, Selection selection, By by) {
        Optional<Run> now = find(running::get, agreed, selection, by);
        if (now.isPresent()) {
            try {
                return Optional.of(await(now.get().outcome()));
            } catch (VacancyException tooLate) {
                // It wasn't the first; that one is done.
            }
        }
        return find(key -> done.get(key).orElse(null), agreed, selection, by)
                .map(run -> run.outcome().join());
    }

    private static Optional<Run> find(
            Function<String, Run> runs, AgreedFingerprints agreed, Selection selection, By by) {
        return agreed.fingerprints().stream()
                .map(fingerprint -> runs.apply(key(fingerprint, by)))
                .filter(run -> run != null && run.isOf(selection, by))
                .findFirst();
    }

    private static String key(String fingerprint, By by) {
        return fingerprint + ' ' + by.actor();
    }

    /** Carries out a deletion, or waits for the same one that has begun meanwhile. */
    Outcome run(Plan plan, Supplier<Outcome> carryingOut) {
        String key = key(plan.fingerprint(), plan.by());
        Run own = new Run(plan.selection(), plan.by(), new CompletableFuture<>());
        Run first = running.putIfAbsent(key, own);
        if (first != null) {
            return await(first.outcome());
        }
        try {
            Outcome outcome = carryingOut.get();
            own.outcome().complete(outcome);
            done.put(key, own, plan.by().actor(), Requests.size(plan));
            return outcome;
        } catch (RuntimeException | Error failure) {
            own.outcome().completeExceptionally(failure);
            throw failure;
        } finally {
            running.remove(key, own);
        }
    }

    private static Outcome await(CompletableFuture<Outcome> outcome) {
        try {
            return outcome.get(PATIENCE_SECONDS, TimeUnit.SECONDS);
        } catch (ExecutionException failed) {
            if (failed.getCause() instanceof RuntimeException failure) {
                throw failure;
            }
            throw new CompletionException(failed.getCause());
        } catch (TimeoutException slow) {
            throw stillGoingOn();
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
            throw stillGoingOn();
        }
    }

    private static Problem.Raised stillGoingOn() {
        return Problem.of(
                        LOCKED,
                        "try-again",
                        "The same deletion is being carried out already, by an earlier request.",
                        "Send it again to learn what came of it.")
                .with("Retry-After", "5");
    }
}
