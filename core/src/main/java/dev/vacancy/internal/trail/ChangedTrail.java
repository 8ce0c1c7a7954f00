package dev.vacancy.internal.trail;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;

/** Somebody has changed a trail that is to be taken over. */
final class ChangedTrail extends InvalidRequestException {
    private static final long serialVersionUID = 1L;

    ChangedTrail(String what) {
        super(
                FailureCode.RUN_STATE,
                what + " of the audit trail was changed, so the trail can't be taken over as if it were whole.",
                "Nothing was changed. Look at it by 'history verify' of the release that wrote it, and give the trail of this one"
                        + " other names.");
    }
}
