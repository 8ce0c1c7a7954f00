package dev.vacancy.internal.trail;

import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.function.Supplier;
import tools.jackson.core.JacksonException;

/**
 * Holds a whole trail against its own digests.
 *
 * @since 0.1
 */
public final class Audit {
    private static final int MOST_FAULTS = 1_000;

    private final TrailStore store;
    private final List<String> faults = new ArrayList<>();
    private final Map<Long, Long> erasedEntries = new LinkedHashMap<>();
    private final Map<Long, Long> erasedWords = new LinkedHashMap<>();
    private boolean reachesBack = true;
    private long runs;
    private long entries;
    private long erased;
    private long lastPlace;
    private String lastDigest = TrailTables.NOTHING;

    /**
     * Looks at nothing yet.
     *
     * @param store where the trail is kept
     */
    public Audit(TrailStore store) {
        this.store = store;
    }

    /**
     * Looks at the whole trail.
     *
     * @param keptPlace the place where the chain ended before, 0 if nobody kept it
     * @param keptDigest the digest that stood there
     */
    public void look(long keptPlace, String keptDigest) {
        if (!store.hasBeginning()) {
            fault("The row at place 0, where the chain begins, was changed.");
        }
        Optional<StoredRun> ageing = lastAgeing();
        if (ageing.isPresent()) {
            PrunedRun until = PrunedRun.of(ageing.get().facts().selection());
            lastPlace = until.place();
            lastDigest = until.digest();
            reachesBack = false;
        }
        boolean kept = keptPlace == 0;
        for (OptionalLong next = store.placeAfter(lastPlace); next.isPresent(); next = store.placeAfter(lastPlace)) {
            long place = next.getAsLong();
            Optional<StoredRun> run = readable(() -> store.runAt(place));
            if (run.isPresent()) {
                look(run.get());
                kept |= run.get().place() == keptPlace && run.get().digest().equals(keptDigest);
            } else {
                fault("The run at place " + place + " was changed: it can't be read any more.");
                lastPlace = place;
                lastDigest = "";
            }
        }
        if (!kept) {
            fault(withoutHead(new PrunedRun(keptPlace, keptDigest)));
        }
        strangers();
        erasures();
    }

    private Optional<StoredRun> lastAgeing() {
        try {
            return store.lastPruning().filter(StoredRun::isIntact);
        } catch (IllegalArgumentException | JacksonException changed) {
            return Optional.empty();
        }
    }

    /** Whoever could write a whole trail anew could also write down that the head was aged away. */
    private String withoutHead(PrunedRun head) {
        for (StoredEntry entry : store.pruned(head.place())) {
            Optional<StoredRun> teller = readable(() -> store.run(entry.run()));
            if (head.isToldBy(entry) && teller.isPresent()) {
                RunFacts facts = teller.get().facts();
                return "The run at place " + head.place() + ", where the head was kept, isn't in the trail any more: "
                        + facts.actor() + " removed it at " + facts.at() + " ("
                        + facts.kind().word() + ", run "
                        + facts.runId() + "). If that was meant to be, keep the head of today instead.";
            }
        }
        return "The run at place " + head.place() + " isn't the one that stood there when the head was kept.";
    }

    private static Optional<StoredRun> readable(Supplier<Optional<StoredRun>> run) {
        try {
            return run.get();
        } catch (IllegalArgumentException | NullPointerException | ClassCastException | JacksonException changed) {
            return Optional.empty();
        }
    }

    private void look(StoredRun run) {
        runs++;
        String name = "Run " + run.facts().runId() + " of " + run.facts().at();
        if (run.place() != lastPlace + 1) {
            fault((run.place() - lastPlace - 1) + " runs before place " + run.place() + " are missing.");
        } else if (!run.previous().equals(lastDigest)) {
            fault(name + " doesn't follow the one before it: one of the two was changed or exchanged.");
        }
        if (!run.isIntact() && !isAsMasked(run)) {
            fault(name + " was changed.");
        }
        if (run.words().erasedBy() != null) {
            erasedWords.merge(run.words().erasedBy(), 1L, Long::sum);
        }
        lastPlace = run.place();
        lastDigest = run.digest();
        entries(run, name);
    }

    /** What a masking has left has a digest of its own, which the masking tells. */
    private boolean isAsMasked(StoredRun run) {
        Optional<StoredEntry> pointer = run.words().erasedBy() == null
                ? Optional.empty()
                : store.pointer(run.words().erasedBy(), Reference.toRun(run.number()));
        return pointer.filter(entry -> entry.word().equals(Action.MASKED.word()))
                .filter(known -> run.remains().equals(known.content()) && run.isSound())
                .isPresent();
    }

    private void entries(StoredRun run, String name) {
        MessageDigest all = Chain.sha256();
        long[] count = {0};
        int[] step = {0};
        long[] expected = {1};
        store.each(run.number(), portion -> {
            for (StoredEntry entry : portion) {
                if (entry.step() != step[0]) {
                    step[0] = entry.step();
                    expected[0] = 1;
                }
                count[0]++;
                all.update(entry.digest().duplicate());
                look(entry, expected[0]++);
                if (entry.word().equals(Action.ERASED.word()) || entry.word().equals(Action.MASKED.word())) {
                    pointed(entry, run.place());
                }
            }
        });
        entries += count[0];
        boolean same = HexFormat.of().formatHex(all.digest()).equals(run.entriesDigest());
        if (count[0] != run.entries()) {
            fault(name + " had " + run.entries() + " entries and has " + count[0] + " now.");
        } else if (!same) {
            fault("The entries of " + decapitalised(name) + " aren't those that it had.");
        }
    }

    private void look(StoredEntry entry, long expected) {
        String name = name(entry);
        if (entry.place() != expected) {
            fault("An entry before " + decapitalised(name) + " is missing.");
        }
        if (!entry.isIntact()) {
            fault(name + " was changed.");
        }
        if (entry.erasedBy() != null) {
            erased++;
        }
    }

    private static String name(StoredEntry entry) {
        return "Entry " + entry.step() + "/" + entry.place() + " of run no. " + entry.run() + " (" + entry.table() + " "
                + entry.keyText() + ")";
    }

    /** What an erasure says that it has erased has to be erased, by it, and to have kept as much of its key. */
    private void pointed(StoredEntry pointer, long place) {
        Reference about = pointer.about();
        if (about == null) {
            fault(name(pointer) + " says that something was erased, and not what.");
            return;
        }
        Long eraser = pointer.run();
        if (about.isToRun()) {
            Optional<StoredRun> run = readable(() -> store.run(about.run()));
            boolean recorded =
                    run.isPresent() && eraser.equals(run.get().words().erasedBy());
            count(erasedWords, eraser, recorded);
            Long later = run.map(found -> found.words().erasedBy()).orElse(null);
            if (!recorded && (run.isPresent() || reachesBack) && !isSuperseded(about, later, place)) {
                fault("The words of the selection of the run no. " + about.run() + " were erased and are there again.");
            }
            return;
        }
        Optional<StoredEntry> entry = store.entry(about);
        boolean recorded = entry.isPresent() && eraser.equals(entry.get().erasedBy());
        count(erasedEntries, eraser, recorded);
        Long later = entry.map(StoredEntry::erasedBy).orElse(null);
        if (!recorded && isSuperseded(about, later, place)) {
            return;
        }
        if (entry.isPresent() ? !recorded : reachesBack) {
            fault("What was erased from entry " + about + " is there again, or the entry is gone.");
        } else if (recorded && !isWhatRemained(entry.get(), pointer)) {
            fault(name(entry.get()) + " was changed.");
        }
    }

    /** What was masked can be masked once more, or erased; the last one tells of what is left. */
    private boolean isSuperseded(Reference about, Long later, long place) {
        if (later == null) {
            return false;
        }
        Optional<StoredRun> run = readable(() -> store.run(later));
        return run.isPresent()
                && run.get().place() > place
                && store.pointer(later, about).isPresent();
    }

    private static boolean isWhatRemained(StoredEntry erased, StoredEntry pointer) {
        return Objects.equals(erased.key(), pointer.key())
                && erased.table().equals(pointer.table())
                && erased.remains().equals(pointer.content());
    }

    private static void count(Map<Long, Long> erasures, Long eraser, boolean recorded) {
        if (recorded) {
            erasures.merge(eraser, -1L, Long::sum);
        }
    }

    /** Each erasure is told once by itself and once by what it has erased. */
    private void erasures() {
        store.erasures().forEach((eraser, entriesErased) -> erasedEntries.merge(eraser, entriesErased, Long::sum));
        Set<Long> underWay = store.underWay();
        for (Map<Long, Long> erasures : List.of(erasedEntries, erasedWords)) {
            erasures.entrySet().removeIf(each -> each.getValue() != 0 && isToldLater(each.getKey(), underWay));
        }
        unequal(erasedEntries, "What entries said of their records");
        unequal(erasedWords, "The words of the selections of runs");
    }

    /** An erasure that is at work while this looks is told when it is done, behind all that was looked at. */
    private boolean isToldLater(long eraser, Set<Long> underWay) {
        return underWay.contains(eraser)
                || readable(() -> store.run(eraser))
                        .filter(run -> run.place() > lastPlace)
                        .isPresent();
    }

    private void unequal(Map<Long, Long> erasures, String what) {
        long untold = erasures.values().stream().mapToLong(Math::abs).sum();
        if (untold > 0) {
            fault(what + " was erased, " + untold + " times, and no erasure tells of it.");
        }
    }

    /** Entries that no run has. */
    private void strangers() {
        store.strangers().forEach(run -> fault("Entries were slipped in, or their run was removed: no. " + run + "."));
    }

    private static String decapitalised(String name) {
        return Character.toLowerCase(name.charAt(0)) + name.substring(1);
    }

    private void fault(String what) {
        if (faults.size() < MOST_FAULTS) {
            faults.add(what);
        }
    }

    /**
     * Returns how many runs were looked at.
     *
     * @return the number
     */
    public long runs() {
        return runs;
    }

    /**
     * Returns how many entries were looked at.
     *
     * @return the number
     */
    public long entries() {
        return entries;
    }

    /**
     * Returns how many entries have no content any more.
     *
     * @return the number
     */
    public long erased() {
        return erased;
    }

    /**
     * Returns the place of the last run.
     *
     * @return 0 before the first
     */
    public long lastPlace() {
        return lastPlace;
    }

    /**
     * Returns what the last run bears.
     *
     * @return its digest
     */
    public String lastDigest() {
        return lastDigest;
    }

    /**
     * Returns what was found.
     *
     * @return sentences; none if all is as it was written
     */
    public List<String> faults() {
        return List.copyOf(faults);
    }
}
