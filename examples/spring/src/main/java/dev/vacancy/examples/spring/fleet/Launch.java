package dev.vacancy.examples.spring.fleet;

import jakarta.persistence.Entity;

/** A craft with an engine. */
@Entity
public class Launch extends Craft {
    private int kilowatts;

    /** For the mapper. */
    protected Launch() {}

    public Launch(int id, String name, Harbour harbour, Owner owner, int kilowatts) {
        super(id, name, harbour, owner);
        this.kilowatts = kilowatts;
    }

    @Override
    public String getKind() {
        return "launch of " + kilowatts + " kW";
    }
}
