package dev.vacancy;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.Rule;
import dev.vacancy.wording.Wording;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import java.util.Set;
import java.util.function.BiFunction;

/**
 * All that a deletion would do, as values for programs and as text for people. Making one changes nothing, and a plan
 * itself can do nothing: it has to be approved first, and then run.
 *
 * @since 0.1
 */
public sealed interface Plan extends Proposal permits PlannedDeletion {
    /** {@return what was asked for} */
    Selection selection();

    /** {@return who wants the deletion, and why} */
    @Override
    By by();

    /** {@return when the plan was made, the moment that relative times of the selection are told from} */
    @Override
    Instant madeAt();

    /** {@return the table whose records were selected} */
    Table table();

    /**
     * {@return the selected records that would go, whole, in the order of their keys; of more than {@value #MOST_ROOTS}
     * only the first ones, unless blocked ones are to be left out}
     */
    List<RecordContent> roots();

    /** {@return how many selected records would go} */
    long selected();

    /**
     * {@return how many records the table has, at the plan of several; empty where a single one was named, and at the
     * run}
     */
    OptionalLong ofTable();

    /** {@return the selected keys that no record has, in the order in which they were given} */
    List<Key> notFound();

    /** {@return the selected keys whose records are soft-deleted already, which changes nothing} */
    List<Key> alreadyDeleted();

    /**
     * {@return the selected records that are left out because children forbid their deletion, each with its blockers;
     * empty unless the selection asks for that}
     */
    List<Skipped> skipped();

    /**
     * {@return how many records would be deleted of each table, by its name, the selected table first; a table that loses
     * none isn't there}
     */
    @Override
    Map<String, Long> counts();

    /** {@return the tables among these whose records would be marked and stay; those of the others go for good} */
    Set<String> marked();

    /** {@return how many of the records that would go for good were soft-deleted before, by table} */
    Map<String, Long> inactive();

    /** {@return what would become of the children, link by link, parents first; of links that have children} */
    List<Effect> effects();

    /** {@return how many parents that stay would have who changed them last and when written on them, by table} */
    Map<String, Long> touched();

    /** {@return the child records that forbid the deletion; empty if the plan can be approved} */
    List<Blocker> blockers();

    /** {@return what must not go until a hold is lifted; empty if the plan can be approved} */
    List<Held> holds();

    /** {@return what a person should know before agreeing, each a sentence or two; not part of the fingerprint} */
    List<String> warnings();

    /** {@return whether the audit trail would keep what the records are now, so that they can be restored} */
    boolean recorded();

    /** {@return what a person has to give before the plan is run} */
    @Override
    Consent consent();

    /** {@return whether somebody else has to agree as well, by the rules} */
    @Override
    boolean colleague();

    /**
     * {@return the tables whose records lie on other servers, which no commit spans: what goes there goes part by part, the children's side
     * first, in a bulk run only}
     */
    Set<String> onOtherServers();

    /**
     * {@return whether others see all of it at once, or nothing; false where no transaction holds it, as on documents, so that others see it while it
     * goes on. It is all or nothing in the end either way}
     */
    boolean transactional();

    /** {@return the tables, and columns such as {@code hive.last_reading_at}, whose changes are ignored: the fingerprint leaves them out} */
    Set<String> ignoredChanges();

    /**
     * {@return the digest of what the plan would do, 64 hexadecimal digits, SHA-256 (FIPS 180-4). Two plans with the same
     * fingerprint do the same to the same records}
     */
    @Override
    String fingerprint();

    /** How many selected records a plan shows. */
    int MOST_ROOTS = 1_000;

    /**
     * Tells whether the table would be empty afterwards.
     *
     * @return true if each of its records was selected and there are several; false if that isn't known
     */
    default boolean isOfWholeTable() {
        return selected() > 1 && ofTable().isPresent() && ofTable().getAsLong() == selected();
    }

    /**
     * Tells whether the selected records would be marked and stay.
     *
     * @return false if they go for good
     */
    default boolean isSoft() {
        return marked().contains(table().name());
    }

    /**
     * Tells whether all that would go can be brought back afterwards.
     *
     * @return true if the audit trail keeps it, or nothing goes for good
     */
    default boolean isReversible() {
        return recorded() || marked().containsAll(counts().keySet());
    }

    /**
     * Tells whether something forbids the deletion.
     *
     * @return true if there are blockers or holds
     */
    @Override
    default boolean isBlocked() {
        return !blockers().isEmpty() || !holds().isEmpty();
    }

    @Override
    default void refuseBlocked() {
        if (isBlocked()) {
            throw new BlockedException(this);
        }
    }

    @Override
    default void refuseMode(Mode mode) {
        if (mode != Mode.IN_CHUNKS && !onOtherServers().isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.SEVERAL_SERVERS,
                    "Records of " + String.join(", ", onOtherServers())
                            + " lie on other servers, and no commit spans them, so this can't be all or nothing.",
                    "Nothing was changed; do it in chunks, as a bulk run, which says of each record how it ended and can be gone on with.");
        }
    }

    /** {@return the label of the one selected record in one line, as a person can type it; or else its key} */
    @Override
    default String label() {
        RecordContent root = roots().get(0);
        return root.label()
                .map(text -> Sample.plain(text).replaceAll("\\p{Space}+", " ").strip())
                .filter(text -> !text.isEmpty())
                .orElseGet(() -> root.key().text());
    }

    @Override
    default String subject() {
        return table().name();
    }

    @Override
    default Map<String, Long> changes() {
        Map<String, Long> changes = new LinkedHashMap<>();
        effects().stream()
                .filter(Effect::isChange)
                .forEach(effect -> changes.merge(effect.link().where(), effect.count(), Long::sum));
        return changes;
    }

    @Override
    default String question(Wording words) {
        return PlanWords.question(this, words);
    }

    /**
     * Tells whether nothing would be deleted.
     *
     * @return true if none of the selected records is there, or all of them are skipped
     */
    default boolean isEmpty() {
        return selected() == 0;
    }

    /**
     * Returns the plan as a tree of tables, for people.
     *
     * @return lines of text without a line feed at the end
     */
    default String tree() {
        return tree((rule, words) -> words);
    }

    /**
     * Returns the plan as a tree of tables, for people, with the words for what becomes of children as the caller wants
     * them: in colour on a terminal, say.
     *
     * @param words makes of a rule and the words for its effect what is to stand there
     * @return lines of text without a line feed at the end
     */
    default String tree(BiFunction<Rule, String, String> words) {
        return PlanTree.of(this, words);
    }
}
