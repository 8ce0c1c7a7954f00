package dev.vacancy.spring.boot;

import dev.vacancy.hibernate.Deletions;
import org.springframework.data.jpa.repository.JpaRepository;

/** Berths as the application reads and deletes them. */
interface BerthRepository
        extends JpaRepository<MarinaApplication.Berth, Integer>, Deletions<MarinaApplication.Berth, Integer> {}
