package dev.vacancy.internal.running;

import java.util.Optional;
import java.util.UUID;

/**
 * What is kept of a run once it is done: on a server without transactions written down before, so that whoever has to finish the run keeps the same.
 *
 * @param run the id of the run
 * @param recorded its line in the trail, with each record as it was; empty if there is none
 * @param redeemed the approval that is redeemed by it, which this run has taken; empty if none is
 * @param chunk the records of a bulk run that it deals with, which this run has claimed; empty if it is part of none
 * @since 0.1
 */
public record Conclusion(
        UUID run, Optional<Recorded> recorded, Optional<Redeemed> redeemed, Optional<SettledChunk> chunk) {}
