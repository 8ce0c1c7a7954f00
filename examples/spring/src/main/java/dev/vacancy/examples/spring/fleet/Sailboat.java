package dev.vacancy.examples.spring.fleet;

import jakarta.persistence.Entity;

/** A craft with a mast. */
@Entity
public class Sailboat extends Craft {
    private double mastMetres;

    /** For the mapper. */
    protected Sailboat() {}

    public Sailboat(int id, String name, Harbour harbour, Owner owner, double mastMetres) {
        super(id, name, harbour, owner);
        this.mastMetres = mastMetres;
    }

    @Override
    public String getKind() {
        return "sailboat, mast of %.1f m".formatted(mastMetres);
    }
}
