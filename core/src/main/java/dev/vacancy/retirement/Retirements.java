package dev.vacancy.retirement;

import dev.vacancy.By;
import java.nio.file.Path;
import java.util.List;
import java.util.UUID;

/**
 * What has retired, and what else is done with it. Each step is planned, asked about and carried out by {@code Vacancy.retire}.
 *
 * <p>It may be used by many threads.
 *
 * @since 0.1
 */
public interface Retirements {
    /**
     * Lists what has retired.
     *
     * @return all retirements, the newest first; none where nothing ever retired
     * @throws dev.vacancy.DatabaseException when the database can't be read
     */
    List<Retired> list();

    /**
     * Lists what may be dropped: it is set aside, and its retention is over.
     *
     * @return those retirements, the oldest first
     * @throws dev.vacancy.DatabaseException when the database can't be read
     */
    List<Retired> due();

    /**
     * Plans to drop what is set aside. Definition and content are written to new files before anything is dropped.
     *
     * @param id the number of the retirement
     * @param folder where the files go; it is made if it isn't there
     * @param by who wants it, and why
     * @return the plan, which names the files
     * @throws dev.vacancy.InvalidRequestException when it isn't set aside, or its retention isn't over
     * @throws dev.vacancy.DatabaseException when the database can't be read
     */
    RetirementPlan planDrop(UUID id, Path folder, By by);

    /**
     * Plans to bring back what has retired: from where it was set aside, or from its files; also what was only begun.
     *
     * @param id the number of the retirement
     * @param by who wants it, and why
     * @return the plan
     * @throws dev.vacancy.InvalidRequestException when it is back already, or its files aren't there or were changed
     * @throws dev.vacancy.DatabaseException when the database can't be read
     */
    RetirementPlan planReturn(UUID id, By by);
}
