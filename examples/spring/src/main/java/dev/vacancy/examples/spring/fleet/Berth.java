package dev.vacancy.examples.spring.fleet;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;

/** A place at a pier. */
@Entity
public class Berth {
    @Id
    private int id;

    private double metres;

    @ManyToOne(optional = false)
    private Pier pier;

    /** For the mapper. */
    protected Berth() {}

    public Berth(int id, double metres, Pier pier) {
        this.id = id;
        this.metres = metres;
        this.pier = pier;
        pier.getBerths().add(this);
    }

    public int getId() {
        return id;
    }

    public double getMetres() {
        return metres;
    }

    public Pier getPier() {
        return pier;
    }
}
