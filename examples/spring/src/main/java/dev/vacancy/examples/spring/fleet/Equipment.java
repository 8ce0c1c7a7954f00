package dev.vacancy.examples.spring.fleet;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;

/** What a craft may carry; many carry the same. */
@Entity
public class Equipment {
    @Id
    private String name;

    /** For the mapper. */
    protected Equipment() {}

    public Equipment(String name) {
        this.name = name;
    }

    public String getName() {
        return name;
    }
}
