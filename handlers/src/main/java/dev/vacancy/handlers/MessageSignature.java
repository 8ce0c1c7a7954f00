package dev.vacancy.handlers;

import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.time.Clock;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.Map;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/** Signs requests as in RFC 9421, by hmac-sha256 (section 3.3.3) over the method, the address and the digest of the content. */
final class MessageSignature {
    private static final String LABEL = "vacancy";

    private final String keyId;
    private final byte[] secret;
    private final Clock clock;

    MessageSignature(String keyId, byte[] secret, Clock clock) {
        if (!keyId.matches("[ -~&&[^\"\\\\]]{1,100}")) {
            throw new IllegalArgumentException("'" + keyId + "' can't be the name of a key.");
        }
        this.keyId = keyId;
        this.secret = secret.clone();
        this.clock = clock;
    }

    /** The headers that a request needs. */
    Map<String, String> headers(String method, URI address, byte[] content) {
        String digest = "sha-256=:" + base64(sha256(content)) + ":";
        String parameters = "(\"@method\" \"@target-uri\" \"content-digest\");created="
                + clock.instant().getEpochSecond() + ";keyid=\"" + keyId + "\";alg=\"hmac-sha256\"";
        // RFC 9421, section 2.5: the signature base.
        String base = "\"@method\": " + method + "\n\"@target-uri\": " + address + "\n\"content-digest\": " + digest
                + "\n\"@signature-params\": " + parameters;
        Map<String, String> headers = new LinkedHashMap<>();
        headers.put("Content-Digest", digest);
        headers.put("Signature-Input", LABEL + "=" + parameters);
        headers.put("Signature", LABEL + "=:" + base64(mac(base)) + ":");
        return headers;
    }

    private static String base64(byte[] bytes) {
        return Base64.getEncoder().encodeToString(bytes);
    }

    private static byte[] sha256(byte[] content) {
        try {
            return MessageDigest.getInstance("SHA-256").digest(content);
        } catch (GeneralSecurityException missing) {
            throw new IllegalStateException("Every Java platform has SHA-256", missing);
        }
    }

    private byte[] mac(String base) {
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(secret, "HmacSHA256"));
            return mac.doFinal(base.getBytes(StandardCharsets.UTF_8));
        } catch (GeneralSecurityException missing) {
            throw new IllegalStateException("Every Java platform has HmacSHA256", missing);
        }
    }
}
