package dev.vacancy.plan;

import dev.vacancy.catalog.Link;
import dev.vacancy.rule.Rule;
import java.util.List;

/**
 * What becomes of the children on one link.
 *
 * @param link the link
 * @param rule what happens to them
 * @param count how many there are; a child of several parents that go counts on each of its links
 * @param samples the first few of them, by key; none in a plan made for a run
 * @since 0.1
 */
public record Effect(Link link, Rule rule, long count, List<Sample> samples) {
    /** Keeps its own copy of the samples. */
    public Effect {
        samples = List.copyOf(samples);
    }
}
