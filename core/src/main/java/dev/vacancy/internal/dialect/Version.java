package dev.vacancy.internal.dialect;

/**
 * A version of a database.
 *
 * @param major the first number
 * @param minor the second number
 * @since 0.1
 */
public record Version(int major, int minor) implements Comparable<Version> {
    @Override
    public int compareTo(Version other) {
        return major == other.major ? Integer.compare(minor, other.minor) : Integer.compare(major, other.major);
    }

    @Override
    public String toString() {
        return major + "." + minor;
    }
}
