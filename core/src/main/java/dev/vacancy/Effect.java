package dev.vacancy;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.internal.request.LinkWords;
import dev.vacancy.rule.Rule;
import java.util.List;
import java.util.Optional;

/**
 * What becomes of the children on one link.
 *
 * @param link the link
 * @param rule what happens to them
 * @param newParent who takes them over, if the rule is to reassign them
 * @param count how many there are; a child of several parents that go counts on each of its links
 * @param samples the first few of them, by key; none in a plan made for a run
 * @since 0.1
 */
public record Effect(Link link, Rule rule, Optional<Key> newParent, long count, List<Sample> samples) {
    /** Keeps its own copy of the samples. */
    public Effect {
        samples = List.copyOf(samples);
    }

    /**
     * Tells whether the children stay, but with another foreign key.
     *
     * @return true unless they go too or are kept as they are
     */
    public boolean isChange() {
        return rule != Rule.CASCADE && rule != Rule.KEEP;
    }

    /**
     * Says what becomes of the foreign key of children that stay.
     *
     * @return such as {@code queen.hive_id is set to null}
     */
    public String change() {
        return link.where()
                + switch (rule) {
                    case REASSIGN -> " is set to " + newParent.map(Key::text).orElse("");
                    case RESET -> " is set to its default";
                    case DETACH -> LinkWords.isOfDocuments(link) ? " no longer refers to what goes" : " is set to null";
                    case CASCADE, PART_OF, BLOCK, KEEP -> " stays as it is";
                };
    }
}
