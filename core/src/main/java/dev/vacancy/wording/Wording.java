package dev.vacancy.wording;

import java.text.MessageFormat;
import java.text.NumberFormat;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.MissingResourceException;
import java.util.Optional;
import java.util.ResourceBundle;
import java.util.TreeMap;

/**
 * The words of questions, of the dialogs that ask them and of what went wrong, in a language. They come from a resource bundle,
 * each a pattern of {@link MessageFormat}, whose choices make the plural forms; numbers are written as the language writes them.
 *
 * <p>English and German are there. An application that wants others, or another tone, gives a bundle with some or all of the
 * keys of {@code dev/vacancy/wording/Words.properties}; what it lacks is English.
 *
 * <p>It is immutable, and safe for use by many threads.
 *
 * @since 0.1
 */
public final class Wording {
    private static final String WORDS = "dev.vacancy.wording.Words";
    private static final Wording ENGLISH = spoken(Locale.ENGLISH).orElseThrow();

    private final Locale locale;
    private final List<ResourceBundle> bundles;

    private Wording(Locale locale, List<ResourceBundle> bundles) {
        this.locale = locale;
        this.bundles = bundles;
    }

    /**
     * Returns the words that are used unless others are given.
     *
     * @return English
     */
    public static Wording english() {
        return ENGLISH;
    }

    /**
     * Returns the words of a language.
     *
     * @param locale the language, and how it writes numbers
     * @return its words, or English if there are none
     */
    public static Wording of(Locale locale) {
        return spoken(locale).orElse(ENGLISH);
    }

    /**
     * Returns the words of the first language that there are words in.
     *
     * @param wanted the languages that somebody reads, the best one first; may be empty
     * @return its words, or English if there are none in any
     */
    public static Wording firstOf(List<Locale> wanted) {
        return wanted.stream()
                .flatMap(locale -> spoken(locale).stream())
                .findFirst()
                .orElse(ENGLISH);
    }

    /**
     * Returns the words of an application's own.
     *
     * @param bundle some or all of the keys; its locale says how numbers are written, that of a root bundle is English
     * @return its words, and where it has none those of its language, or else English
     */
    public static Wording of(ResourceBundle bundle) {
        Locale locale =
                bundle.getLocale() == null || bundle.getLocale().getLanguage().isEmpty()
                        ? Locale.ENGLISH
                        : bundle.getLocale();
        return new Wording(
                locale, List.of(bundle, spoken(locale).orElse(ENGLISH).bundles.get(0)));
    }

    /** Without the language of this machine, which nobody has asked for. */
    private static Optional<Wording> spoken(Locale locale) {
        boolean english = locale.getLanguage().equals(Locale.ENGLISH.getLanguage());
        ResourceBundle bundle =
                ResourceBundle.getBundle(WORDS, english ? Locale.ROOT : locale, Wording.class.getModule());
        return english || bundle.getLocale().getLanguage().equals(locale.getLanguage())
                ? Optional.of(new Wording(locale, List.of(bundle)))
                : Optional.empty();
    }

    /**
     * Returns the language.
     *
     * @return its locale
     */
    public Locale locale() {
        return locale;
    }

    /**
     * Puts something in words.
     *
     * @param key what
     * @param arguments what is told in it: texts, and numbers as {@link Long}
     * @return the words
     * @throws MissingResourceException when there are no such words in any language
     */
    public String text(String key, Object... arguments) {
        return new MessageFormat(pattern(key), locale).format(arguments);
    }

    /**
     * Says what went wrong to somebody who uses a program and can't fix it: without names of columns, values or records.
     *
     * @param code what went wrong, as {@link dev.vacancy.FailureCode#text()} has it
     * @return a sentence or two; general ones where there are none for that code
     */
    public String failure(String code) {
        String key = "failure." + code;
        return text(bundles.stream().anyMatch(bundle -> bundle.containsKey(key)) ? key : "failure.other");
    }

    /**
     * Returns all words of a kind, for a program that puts them together itself.
     *
     * @param kind the beginning of their keys, such as {@code dialog}
     * @return the words by the rest of their keys; {@code {0}} stands for what is to be told in them
     */
    public Map<String, String> all(String kind) {
        Map<String, String> words = new TreeMap<>();
        bundles.stream()
                .flatMap(bundle -> bundle.keySet().stream())
                .filter(key -> key.startsWith(kind + "."))
                .forEach(key -> words.put(key.substring(kind.length() + 1), text(key)));
        return words;
    }

    /**
     * Returns several words that mean the same.
     *
     * @param key what
     * @return the words, separated by commas in the bundle
     * @throws MissingResourceException when there are no such words in any language
     */
    public List<String> words(String key) {
        return Arrays.stream(pattern(key).split(",")).map(String::strip).toList();
    }

    /**
     * Tells whether somebody has typed a number, with what groups its digits in the language, commas or nothing.
     *
     * @param typed what was typed
     * @param number the number
     * @return true if it is that one
     */
    public boolean isNumber(String typed, long number) {
        return typed.equals(NumberFormat.getIntegerInstance(locale).format(number))
                || typed.replace(",", "").equals(String.valueOf(number));
    }

    private String pattern(String key) {
        for (ResourceBundle bundle : bundles) {
            if (bundle.containsKey(key)) {
                return bundle.getString(key);
            }
        }
        throw new MissingResourceException("There are no words for " + key + ".", WORDS, key);
    }

    /**
     * Tells its language.
     *
     * @return such as {@code wording in de}
     */
    @Override
    public String toString() {
        return "wording in " + locale.toLanguageTag();
    }
}
