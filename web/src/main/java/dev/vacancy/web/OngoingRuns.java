package dev.vacancy.web;

import dev.vacancy.criteria.Selection;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Plan;
import dev.vacancy.run.Outcome;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Supplier;

/** Deletions that are being carried out or were lately: whoever clicks twice learns what came of the first click. */
final class OngoingRuns {
    private static final int LOCKED = 423;
    private static final int MOST = 1_000;
    private static final int MOST_OF_ONE = 20;
    private static final long LARGEST = 32_000_000;
    private static final long LARGEST_OF_ONE = 4_000_000;
    private static final long PATIENCE_SECONDS = 60;

    private final Latest<String, Run> runs =
            new Latest<>(new Latest.Bounds(MOST, LARGEST), new Latest.Bounds(MOST_OF_ONE, LARGEST_OF_ONE));

    /** One of them. A fingerprint is of database, rules, request and all that goes; the person is asked for as well. */
    private record Run(Selection selection, By by, CompletableFuture<Outcome> outcome) {
        boolean isOf(Selection other, By whose) {
            return selection.equals(other) && by.actor().equals(whose.actor()) && by.isProgram() == whose.isProgram();
        }
    }

    /** What comes of the same deletion, if it is being carried out at the moment. */
    Optional<Outcome> ongoing(Agreed agreed, Selection selection, By by) {
        return find(agreed, selection, by)
                .filter(run -> !run.outcome().isDone())
                .map(run -> await(run.outcome()));
    }

    /** What came of the same deletion, if it was carried out. Only who would find nothing to delete any more may ask. */
    Optional<Outcome> past(Agreed agreed, Selection selection, By by) {
        return find(agreed, selection, by)
                .filter(run -> run.outcome().isDone() && !run.outcome().isCompletedExceptionally())
                .map(run -> run.outcome().join());
    }

    private Optional<Run> find(Agreed agreed, Selection selection, By by) {
        return agreed.fingerprints().stream()
                .flatMap(fingerprint -> runs.get(key(fingerprint, by)).stream())
                .filter(run -> run.isOf(selection, by))
                .findFirst();
    }

    private static String key(String fingerprint, By by) {
        return fingerprint + ' ' + by.actor();
    }

    /** Carries out a deletion, or waits for the same one that has begun meanwhile. */
    Outcome run(Plan plan, Supplier<Outcome> running) {
        CompletableFuture<Outcome> own = new CompletableFuture<>();
        CompletableFuture<Outcome> first = begin(plan, own);
        if (first != own) {
            return await(first);
        }
        try {
            Outcome outcome = running.get();
            own.complete(outcome);
            return outcome;
        } catch (RuntimeException | Error failure) {
            own.completeExceptionally(failure);
            throw failure;
        }
    }

    /** Of two who come at once, one begins. */
    private synchronized CompletableFuture<Outcome> begin(Plan plan, CompletableFuture<Outcome> own) {
        String key = key(plan.fingerprint(), plan.by());
        Optional<Run> before = runs.get(key)
                .filter(run ->
                        run.isOf(plan.selection(), plan.by()) && !run.outcome().isDone());
        if (before.isEmpty()) {
            runs.put(key, new Run(plan.selection(), plan.by(), own), plan.by().actor(), Requests.size(plan));
        }
        return before.map(Run::outcome).orElse(own);
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
