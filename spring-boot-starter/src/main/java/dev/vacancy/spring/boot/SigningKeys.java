package dev.vacancy.spring.boot;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.approvals.ApprovalKeys;
import dev.vacancy.web.WebOptions;
import java.util.Base64;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The keys that the properties name. */
final class SigningKeys {
    private final @Nullable ApprovalKeys keys;

    private SigningKeys(@Nullable ApprovalKeys keys) {
        this.keys = keys;
    }

    static SigningKeys of(VacancyProperties.Web web) {
        List<VacancyProperties.SigningKey> given = web.signingKeys();
        if (given.isEmpty()) {
            return new SigningKeys(null);
        }
        ApprovalKeys keys =
                ApprovalKeys.signingWith(given.get(0).id(), bytes(given.get(0))).lasting(web.approvalsLast());
        for (VacancyProperties.SigningKey older : given.subList(1, given.size())) {
            keys = keys.verifyingToo(older.id(), bytes(older));
        }
        return new SigningKeys(keys);
    }

    /** The options with these keys, where there are any and the options have none. */
    WebOptions added(WebOptions options) {
        return keys == null || options.keys().isPresent() ? options : options.signing(keys);
    }

    private static byte[] bytes(VacancyProperties.SigningKey key) {
        try {
            return Base64.getDecoder().decode(key.secret().strip());
        } catch (IllegalArgumentException invalid) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "The secret of the signing key " + key.id() + " isn't Base64.",
                    "Give 32 random bytes as Base64, such as openssl rand -base64 32 prints.");
        }
    }
}
