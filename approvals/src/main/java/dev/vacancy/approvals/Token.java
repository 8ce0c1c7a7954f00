package dev.vacancy.approvals;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.crypto.MACSigner;
import com.nimbusds.jose.crypto.MACVerifier;
import com.nimbusds.jwt.JWTClaimsSet;
import com.nimbusds.jwt.SignedJWT;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Mode;
import java.text.ParseException;
import java.time.Instant;
import java.util.Collections;
import java.util.Date;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * An approval on its way, as a JSON Web Signature (RFC 7515) of claims (RFC 7519).
 *
 * @param id its number, by which it is redeemed once
 * @param actor who asks for it
 * @param database digest of which database it was given on
 * @param rules digest of the rules
 * @param request the digest of what is asked for
 * @param mode the way in which it is carried out
 * @param fingerprint the plan's fingerprint
 * @param counts how many records of each table would go, or come back
 * @param expiresAt from when on it no longer holds
 * @param colleague who else has agreed
 */
record Token(
        String id,
        String actor,
        String database,
        String rules,
        String request,
        Mode mode,
        String fingerprint,
        Map<String, Long> counts,
        Instant expiresAt,
        Optional<String> colleague) {
    private static final String AUDIENCE = "vacancy-approval";
    private static final String DATABASE = "database";
    private static final String RULES = "rules";
    private static final String REQUEST = "request";
    private static final String MODE = "mode";
    private static final String FINGERPRINT = "fingerprint";
    private static final String COUNTS = "counts";
    private static final String COLLEAGUE = "colleague";

    /** Keeps its own copy of the counts. */
    public Token {
        counts = Collections.unmodifiableMap(new LinkedHashMap<>(counts));
    }

    /**
     * Adds a colleague.
     *
     * @param other who has agreed as well
     * @return the token with that
     */
    Token agreedBy(String other) {
        return new Token(id, actor, database, rules, request, mode, fingerprint, counts, expiresAt, Optional.of(other));
    }

    /**
     * Signs it.
     *
     * @param keys the first of them signs
     * @return the token in its compact form
     */
    String signed(ApprovalKeys keys) {
        String key = keys.ids().iterator().next();
        JWTClaimsSet.Builder claims = new JWTClaimsSet.Builder()
                .audience(AUDIENCE)
                .jwtID(id)
                .subject(actor)
                .expirationTime(Date.from(expiresAt))
                .claim(DATABASE, database)
                .claim(RULES, rules)
                .claim(REQUEST, request)
                .claim(MODE, mode.name())
                .claim(FINGERPRINT, fingerprint)
                .claim(COUNTS, counts);
        colleague.ifPresent(other -> claims.claim(COLLEAGUE, other));
        SignedJWT signed = new SignedJWT(
                new JWSHeader.Builder(JWSAlgorithm.HS256).keyID(key).build(), claims.build());
        try {
            signed.sign(new MACSigner(keys.secret(key)));
        } catch (JOSEException impossible) {
            throw new IllegalStateException(impossible);
        }
        return signed.serialize();
    }

    /**
     * Reads one that came back.
     *
     * @param text what came
     * @param keys one of them must have signed it
     * @param now the moment
     * @return the token
     * @throws InvalidRequestException when none of the keys has signed it, or it is too old
     */
    static Token read(String text, ApprovalKeys keys, Instant now) {
        Token token;
        try {
            SignedJWT signed = SignedJWT.parse(text == null ? "" : text);
            byte[] secret = keys.secret(String.valueOf(signed.getHeader().getKeyID()));
            // No other algorithm, whatever the header says, and none at all least.
            if (secret.length == 0
                    || !JWSAlgorithm.HS256.equals(signed.getHeader().getAlgorithm())
                    || !signed.verify(new MACVerifier(secret))) {
                throw forged(null);
            }
            token = of(signed.getJWTClaimsSet());
        } catch (ParseException
                | JOSEException
                | ClassCastException
                | NullPointerException
                | IllegalArgumentException wrong) {
            throw forged(wrong);
        }
        if (!now.isBefore(token.expiresAt())) {
            throw new InvalidRequestException(
                    FailureCode.APPROVAL_EXPIRED,
                    "This approval held until " + token.expiresAt() + ".",
                    "Look at the plan again and agree again.");
        }
        return token;
    }

    private static Token of(JWTClaimsSet claims) throws ParseException {
        if (!claims.getAudience().contains(AUDIENCE)) {
            throw forged(null);
        }
        Map<String, Long> counts = new LinkedHashMap<>();
        claims.getJSONObjectClaim(COUNTS).forEach((table, count) -> counts.put(table, ((Number) count).longValue()));
        return new Token(
                claims.getJWTID(),
                claims.getSubject(),
                claims.getStringClaim(DATABASE),
                claims.getStringClaim(RULES),
                claims.getStringClaim(REQUEST),
                Mode.valueOf(claims.getStringClaim(MODE)),
                claims.getStringClaim(FINGERPRINT),
                counts,
                claims.getExpirationTime().toInstant(),
                Optional.ofNullable(claims.getStringClaim(COLLEAGUE)));
    }

    private static InvalidRequestException forged(Exception cause) {
        InvalidRequestException forged = new InvalidRequestException(
                FailureCode.APPROVAL_FORGED,
                "This is no approval of ours, or it was changed on its way.",
                "Look at the plan again and agree again.");
        if (cause != null) {
            forged.addSuppressed(cause);
        }
        return forged;
    }
}
