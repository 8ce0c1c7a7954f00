package dev.vacancy.internal.chunking;

import dev.vacancy.criteria.Selection;
import dev.vacancy.rule.Rules;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * What a run was started with and its workers need, beside what can be seen of it.
 *
 * @param handedOver who takes over children, as a list of texts: a link, the number of texts of the new parent's key, and those;
 *     a link without a name stands for that the records go for good
 * @param rules the digest of the rules that it was approved with
 */
record Terms(String handedOver, String rules) {
    private static final String MANNER = "";
    private static final String FOR_GOOD = "for good";
    private static final String PURGE = "purge";

    static Terms of(Selection selection, Rules rules) {
        List<String> texts = new ArrayList<>();
        if (selection.isForGood()) {
            texts.addAll(List.of(MANNER, "1", selection.isPurge() ? PURGE : FOR_GOOD));
        }
        selection.newParents().forEach((where, key) -> {
            List<String> values =
                    key.resolve(rules.catalog().link(where).parent()).texts();
            texts.add(where);
            texts.add(String.valueOf(values.size()));
            texts.addAll(values);
        });
        return new Terms(TextList.write(texts), rules.digest());
    }

    /** Whether these are the rules that it was approved with. */
    boolean areFor(Rules present) {
        return rules.equals(present.digest());
    }

    /** Selects records, with who takes over their children. */
    Selection select(Selection selection) {
        Selection whole = selection;
        for (Map.Entry<String, List<String>> newParent : newParents().entrySet()) {
            if (newParent.getKey().equals(MANNER)) {
                whole = newParent.getValue().equals(List.of(PURGE)) ? whole.purging() : whole.forGood();
                continue;
            }
            whole = whole.reassigning(newParent.getKey(), newParent.getValue().toArray());
        }
        return whole;
    }

    private Map<String, List<String>> newParents() {
        List<String> texts = TextList.read(handedOver);
        Map<String, List<String>> newParents = new LinkedHashMap<>();
        for (int i = 0; i < texts.size(); ) {
            int values = Integer.parseInt(texts.get(i + 1));
            newParents.put(texts.get(i), List.copyOf(texts.subList(i + 2, i + 2 + values)));
            i += 2 + values;
        }
        return newParents;
    }
}
