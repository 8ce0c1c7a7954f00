package dev.vacancy.bulk;

/**
 * A selected record that a bulk run left where it is.
 *
 * @param key its key as text
 * @param failed whether it should have gone; false for one that wasn't there any more, or was kept by an exemption
 * @param reason why it is left
 * @since 0.1
 */
public record FailedRecord(String key, boolean failed, String reason) {}
