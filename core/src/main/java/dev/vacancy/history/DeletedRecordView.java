package dev.vacancy.history;

import dev.vacancy.By;
import java.util.Map;

/**
 * A soft-deleted record for programs.
 *
 * @param table its table
 * @param key its key
 * @param label the text people know it by, or null
 * @param at since when it has been deleted, as in ISO 8601, or null
 * @param actor who deleted it, or null
 * @param reason why, or null
 * @param daysLeft how many days until it may be purged; null if it is kept for always
 * @param run the run that deleted it, or null
 * @param record each column's value by its name
 * @since 0.1
 */
public record DeletedRecordView(
        String table,
        String key,
        String label,
        String at,
        String actor,
        String reason,
        Long daysLeft,
        String run,
        Map<String, Object> record) {
    static DeletedRecordView of(History.DeletedRecord deleted) {
        return new DeletedRecordView(
                deleted.record().table().name(),
                deleted.record().key().text(),
                deleted.record().label().orElse(null),
                deleted.at().map(String::valueOf).orElse(null),
                deleted.by().map(By::actor).orElse(null),
                deleted.by().flatMap(By::reason).orElse(null),
                deleted.daysLeft().orElse(null),
                deleted.run().map(String::valueOf).orElse(null),
                deleted.record().plainValues());
    }
}
