package dev.vacancy.types;

import java.util.HashSet;
import java.util.Locale;
import java.util.Set;
import javax.lang.model.SourceVersion;

/** Names of Java's for names of a database's, each given out once. */
final class Identifiers {
    private final Set<String> taken = new HashSet<>();

    /** Gives out a name, with a number behind it if it is taken. Two that differ by case alone would share a file on some systems. */
    String unique(String name, String ending) {
        String given = name + ending;
        for (int number = 2; !taken.add(given.toLowerCase(Locale.ROOT)); number++) {
            given = name + number + ending;
        }
        return given;
    }

    /** Such as {@code HONEY_BATCH}. */
    static String constant(String name) {
        String words = String.join("_", words(name)).toUpperCase(Locale.ROOT);
        return startable(words);
    }

    /** Such as {@code HoneyBatch}. */
    static String type(String name) {
        StringBuilder type = new StringBuilder();
        for (String word : words(name)) {
            type.append(word.substring(0, 1).toUpperCase(Locale.ROOT)).append(word.substring(1));
        }
        return startable(type.toString());
    }

    /** Such as {@code honeyBatch}. */
    static String parameter(String name) {
        String type = type(name);
        String parameter = type.substring(0, 1).toLowerCase(Locale.ROOT) + type.substring(1);
        return SourceVersion.isKeyword(parameter) ? parameter + "Value" : parameter;
    }

    /** The words of a name: between characters that no Java name has, and where a small letter is followed by a capital. */
    private static String[] words(String name) {
        String apart = name.replaceAll("(\\p{Ll})(\\p{Lu})", "$1_$2").toLowerCase(Locale.ROOT);
        String bare = apart.replaceAll("[^\\p{L}\\p{Nd}]+", "_").replaceAll("^_+|_+$", "");
        return (bare.isEmpty() ? "x" : bare).split("_");
    }

    private static String startable(String name) {
        return Character.isJavaIdentifierStart(name.charAt(0)) ? name : "_" + name;
    }
}
