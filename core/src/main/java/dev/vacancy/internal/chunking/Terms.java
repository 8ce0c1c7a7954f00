package dev.vacancy.internal.chunking;

import dev.vacancy.criteria.Selection;
import dev.vacancy.internal.trail.Image;
import dev.vacancy.rule.Rules;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * What a run was started with and its workers need, beside what can be seen of it.
 *
 * @param handedOver who takes over children, as a JSON object: the new parent's key by the link; under a name that no link has
 *     stands that the records go for good
 * @param rules the digest of the rules that it was approved with
 */
record Terms(String handedOver, String rules) {
    private static final String MANNER = "";
    private static final String FOR_GOOD = "for good";
    private static final String PURGE = "purge";

    static Terms of(Selection selection, Rules rules) {
        Map<String, Object> terms = new LinkedHashMap<>();
        if (selection.isForGood()) {
            terms.put(MANNER, selection.isPurge() ? PURGE : FOR_GOOD);
        }
        selection
                .newParents()
                .forEach((where, key) -> terms.put(
                        where, key.resolve(rules.catalog().link(where).parent()).storable()));
        return new Terms(Image.write(terms), rules.digest());
    }

    /** Whether these are the rules that it was approved with. */
    boolean areFor(Rules present) {
        return rules.equals(present.digest());
    }

    /** Selects records, with who takes over their children. */
    Selection select(Selection selection) {
        Selection whole = selection;
        for (Map.Entry<String, Object> term : Image.read(handedOver).entrySet()) {
            if (term.getKey().equals(MANNER)) {
                whole = term.getValue().equals(PURGE) ? whole.purging() : whole.forGood();
            } else {
                whole = whole.reassigning(term.getKey(), ((List<?>) term.getValue()).toArray());
            }
        }
        return whole;
    }
}
