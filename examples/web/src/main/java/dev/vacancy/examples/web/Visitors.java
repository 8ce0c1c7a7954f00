package dev.vacancy.examples.web;

import dev.vacancy.By;
import jakarta.servlet.http.Cookie;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.net.URLDecoder;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Base64;
import java.util.HexFormat;
import java.util.Optional;

/** Who is looking: a keeper chosen from a list in pages, or one who signs in as a program. */
final class Visitors {
    static final String TOKEN = "token";

    private static final String ACTOR = "actor";

    private final Keepers keepers;

    Visitors(Keepers keepers) {
        this.keepers = keepers;
    }

    /** Who has been chosen, or signs in with a keeper's e-mail address (HTTP Basic, RFC 7617). */
    Optional<By> of(HttpServletRequest request) {
        String header = request.getHeader("Authorization");
        return header == null ? chosen(request).map(By::user) : basic(header, request.getHeader("X-Reason"));
    }

    private Optional<String> chosen(HttpServletRequest request) {
        return cookie(request, ACTOR)
                .map(value -> URLDecoder.decode(value, StandardCharsets.UTF_8))
                .filter(keepers::isActive);
    }

    private Optional<By> basic(String header, String reason) {
        if (!header.regionMatches(true, 0, "Basic ", 0, 6)) {
            return Optional.empty();
        }
        try {
            String pair =
                    new String(Base64.getDecoder().decode(header.substring(6).strip()), StandardCharsets.UTF_8);
            int colon = pair.indexOf(':');
            boolean known = colon > 0
                    && pair.substring(colon + 1).equals(LarkmoorWeb.PASSWORD)
                    && keepers.isActive(pair.substring(0, colon));
            return known ? Optional.of(By.user(pair.substring(0, colon)).because(reason)) : Optional.empty();
        } catch (IllegalArgumentException wrong) {
            return Optional.empty();
        }
    }

    /** Whoever has chosen nobody is the first of the list, from now on. */
    By greet(HttpServletRequest request, HttpServletResponse response) {
        return By.user(chosen(request).orElseGet(() -> {
            String first = keepers.active().keySet().stream().findFirst().orElse("nobody");
            choose(first, response);
            return first;
        }));
    }

    void choose(String email, HttpServletResponse response) {
        setCookie(response, ACTOR, URLEncoder.encode(email, StandardCharsets.UTF_8));
    }

    boolean isActive(String email) {
        return keepers.isActive(email);
    }

    /** A form that comes back with another token than the browser's own isn't ours. */
    static String token(HttpServletRequest request, HttpServletResponse response) {
        Object made = request.getAttribute(TOKEN);
        if (made != null) {
            return made.toString();
        }
        String token = cookie(request, TOKEN)
                .filter(text -> text.matches("[0-9a-f]{32}"))
                .orElseGet(() -> {
                    byte[] random = new byte[16];
                    new SecureRandom().nextBytes(random);
                    String fresh = HexFormat.of().formatHex(random);
                    setCookie(response, TOKEN, fresh);
                    return fresh;
                });
        request.setAttribute(TOKEN, token);
        return token;
    }

    static boolean isFromOurPage(HttpServletRequest request) {
        String token = cookie(request, TOKEN).orElse("");
        return !token.isEmpty() && token.equals(request.getParameter(TOKEN));
    }

    private static Optional<String> cookie(HttpServletRequest request, String name) {
        return Arrays.stream(Optional.ofNullable(request.getCookies()).orElse(new Cookie[0]))
                .filter(cookie -> cookie.getName().equals(name))
                .map(Cookie::getValue)
                .findFirst();
    }

    private static void setCookie(HttpServletResponse response, String name, String value) {
        Cookie cookie = new Cookie(name, value);
        cookie.setHttpOnly(true);
        cookie.setPath("/");
        cookie.setAttribute("SameSite", "Strict");
        response.addCookie(cookie);
    }
}
