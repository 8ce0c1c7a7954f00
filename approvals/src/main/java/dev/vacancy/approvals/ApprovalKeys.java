package dev.vacancy.approvals;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import java.time.Duration;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * What approvals that travel are signed with, and how long they hold. The newest key signs; older ones still verify, so that keys
 * can be changed while approvals are on their way.
 *
 * <p>They are immutable.
 *
 * @since 0.1
 */
public final class ApprovalKeys {
    /** How long a key has to be at least: as its signature (RFC 7518, section 3.2). */
    public static final int LEAST_BYTES = 32;

    private static final Duration USUAL = Duration.ofMinutes(15);

    private final Map<String, byte[]> secrets;
    private final Duration lasting;

    private ApprovalKeys(Map<String, byte[]> secrets, Duration lasting) {
        this.secrets = secrets;
        this.lasting = lasting;
    }

    /**
     * Starts with the key that signs.
     *
     * @param id its name, which stands in what it signs
     * @param secret at least {@value #LEAST_BYTES} random bytes, from the application's configuration
     * @return the keys; approvals hold for 15 minutes
     * @throws InvalidRequestException when the secret is shorter
     */
    public static ApprovalKeys signingWith(String id, byte[] secret) {
        return new ApprovalKeys(Map.of(), USUAL).and(id, secret);
    }

    /**
     * Adds a key that signed before, and still verifies.
     *
     * @param id its name
     * @param secret the bytes
     * @return the keys with that
     * @throws InvalidRequestException when the secret is too short, or there is another key of this name
     */
    public ApprovalKeys verifyingToo(String id, byte[] secret) {
        return and(id, secret);
    }

    private ApprovalKeys and(String id, byte[] secret) {
        if (secret.length < LEAST_BYTES) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "The key " + id + " has " + secret.length + " bytes, which can be guessed.",
                    "Give " + LEAST_BYTES + " random bytes or more.");
        }
        Map<String, byte[]> more = new LinkedHashMap<>(secrets);
        if (more.put(id, secret.clone()) != null) {
            throw new InvalidRequestException(
                    FailureCode.USAGE, "There are two keys called " + id + ".", "Give each key a name of its own.");
        }
        return new ApprovalKeys(Collections.unmodifiableMap(more), lasting);
    }

    /**
     * Says how long approvals hold.
     *
     * @param time from when they are issued; more than nothing
     * @return the keys with that
     */
    public ApprovalKeys lasting(Duration time) {
        if (time.isNegative() || time.isZero()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE, "An approval that lasts " + time + " is of no use.", "Give a few minutes.");
        }
        return new ApprovalKeys(secrets, time);
    }

    /**
     * Returns how long approvals hold.
     *
     * @return the time
     */
    public Duration lasting() {
        return lasting;
    }

    /**
     * Returns the names of the keys.
     *
     * @return the one that signs first
     */
    public Iterable<String> ids() {
        return secrets.keySet();
    }

    /**
     * Returns a key.
     *
     * @param id its name
     * @return its bytes, a copy; empty if there is none of this name
     */
    public byte[] secret(String id) {
        byte[] secret = secrets.get(id);
        return secret == null ? new byte[0] : secret.clone();
    }

    /** Never shows a secret. */
    @Override
    public String toString() {
        return "ApprovalKeys" + secrets.keySet();
    }
}
