package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Key;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.store.KeyDigest;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.function.Supplier;

/** Selected records as they are read: all of them as long as they aren't too many, else only those that are shown. */
final class RootCollection {
    private final int shown;
    private final long mostHeld;
    private final PriorityQueue<Roots.Root> first =
            new PriorityQueue<>(Comparator.comparing(Roots.Root::key).reversed());
    private final List<Roots.Root> others = new ArrayList<>();
    private final KeyDigest keys = new KeyDigest();
    private final KeyDigest contents = new KeyDigest();

    /**
     * Holds none yet.
     *
     * @param shown of how many the content is kept, the first by their keys
     * @param mostHeld how many are held at most
     */
    RootCollection(int shown, long mostHeld) {
        this.shown = shown;
        this.mostHeld = mostHeld;
    }

    void add(Roots.Root root) {
        keys.add(root.key());
        contents.add(root.digest());
        first.add(root);
        if (first.size() > shown) {
            Roots.Root other = first.remove().withoutContent();
            if (keys.count() <= mostHeld) {
                others.add(other);
            } else {
                others.clear();
            }
        }
    }

    /**
     * Returns what was read.
     *
     * @param condition picks all of it, if it is too much to be held
     * @param notFound the keys that no record has
     */
    Roots roots(Supplier<Condition> condition, List<Key> notFound) {
        List<Roots.Root> roots = new ArrayList<>(others);
        roots.addAll(first);
        roots.sort(Comparator.comparing(Roots.Root::key));
        return new Roots(
                roots,
                notFound,
                keys.count() <= mostHeld
                        ? Optional.empty()
                        : Optional.of(new Roots.Unheld(condition.get(), keys, contents)));
    }
}
