package dev.vacancy.examples.spring.fleet;

import jakarta.persistence.Embeddable;
import jakarta.persistence.EmbeddedId;
import jakarta.persistence.Entity;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.MapsId;
import java.io.Serializable;
import java.time.LocalDate;

/** Which craft lay where, from when to when, and whether that is paid. */
@Entity
public class Stay {
    /** A craft comes to a berth on a day. */
    @Embeddable
    public record StayId(int craftId, int berthId, LocalDate fromDay) implements Serializable {}

    @EmbeddedId
    private StayId id;

    @ManyToOne(optional = false)
    @MapsId("craftId")
    private Craft craft;

    @ManyToOne(optional = false)
    @MapsId("berthId")
    private Berth berth;

    private LocalDate untilDay;
    private LocalDate paidOn;

    /** For the mapper. */
    protected Stay() {}

    public Stay(Craft craft, Berth berth, LocalDate fromDay, LocalDate untilDay, LocalDate paidOn) {
        this.id = new StayId(craft.getId(), berth.getId(), fromDay);
        this.craft = craft;
        this.berth = berth;
        this.untilDay = untilDay;
        this.paidOn = paidOn;
        craft.getStays().add(this);
    }

    public StayId getId() {
        return id;
    }

    public Craft getCraft() {
        return craft;
    }

    public Berth getBerth() {
        return berth;
    }

    public LocalDate getUntilDay() {
        return untilDay;
    }

    public LocalDate getPaidOn() {
        return paidOn;
    }
}
