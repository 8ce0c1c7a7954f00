package dev.vacancy.web;

import jakarta.servlet.http.HttpServletRequest;
import java.util.Collections;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What a request says was agreed to: fingerprints of plans, by {@code If-Match} (RFC 9110, section 13.1.1) or by a header of ours beside it.
 *
 * @param fingerprints any of them will do
 * @param conditional whether the request has a condition at all
 * @param any whether it is only that there is something, which is no agreement to anything
 */
record AgreedFingerprints(Set<String> fingerprints, boolean conditional, boolean any) {
    /** An entity tag (RFC 9110, section 8.8.3); a weak one matches nothing here. */
    private static final Pattern TAG =
            Pattern.compile("\\G\\s*(?:,\\s*)*(W/)?\"([\\x21\\x23-\\x7E\\x80-\\xFF]*)\"\\s*(?:,|$)");

    static AgreedFingerprints of(HttpServletRequest request) {
        List<String> lines = Collections.list(request.getHeaders("If-Match"));
        Set<String> fingerprints = new LinkedHashSet<>();
        boolean any = false;
        for (String line : lines) {
            if (line.strip().equals("*")) {
                any = true;
            } else {
                fingerprints.addAll(strong(line));
            }
        }
        Optional<String> own =
                Optional.ofNullable(request.getHeader(Exchange.FINGERPRINT)).map(String::strip);
        own.ifPresent(fingerprints::add);
        return new AgreedFingerprints(fingerprints, !lines.isEmpty() || own.isPresent(), any);
    }

    private static Set<String> strong(String line) {
        Set<String> tags = new LinkedHashSet<>();
        Matcher matcher = TAG.matcher(line);
        while (matcher.find() && matcher.end() > matcher.start()) {
            if (matcher.group(1) == null) {
                tags.add(Answer.fingerprint(matcher.group(2)));
            }
        }
        return tags;
    }

    /** The same with the fingerprint that stands in the content of the request. */
    AgreedFingerprints and(Object fingerprint) {
        if (!(fingerprint instanceof String text)) {
            return this;
        }
        Set<String> more = new LinkedHashSet<>(fingerprints);
        more.add(text);
        return new AgreedFingerprints(more, true, any);
    }

    /** Whether a plan was named. That there is something isn't to agree to what would become of it. */
    boolean isOfSomething() {
        return conditional && !(any && fingerprints.isEmpty());
    }

    boolean isOf(String fingerprint) {
        return fingerprints.contains(fingerprint);
    }
}
