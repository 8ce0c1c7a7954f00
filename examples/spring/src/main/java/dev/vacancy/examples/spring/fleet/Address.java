package dev.vacancy.examples.spring.fleet;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;

/** Where an owner lives. */
@Entity
public class Address {
    @Id
    private int id;

    private String town;

    /** For the mapper. */
    protected Address() {}

    Address(int id, String town) {
        this.id = id;
        this.town = town;
    }

    public String getTown() {
        return town;
    }
}
