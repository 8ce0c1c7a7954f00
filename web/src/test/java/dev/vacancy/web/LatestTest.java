package dev.vacancy.web;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

/** What is held for people is bounded, in number and in size, for each and for all. */
class LatestTest {
    private final RecentItems<String, String> latest =
            new RecentItems<>(new RecentItems.Bounds(6, 1_000), new RecentItems.Bounds(3, 400));

    @Test
    void ofOnePersonsTheOldestGo() {
        for (int i = 1; i <= 5; i++) {
            latest.put("o" + i, "plan", "odile", 10);
        }
        latest.put("t1", "plan", "tam", 10);

        assertThat(latest.get("o2")).isEmpty();
        assertThat(latest.get("o3")).isPresent();
        assertThat(latest.get("t1")).isPresent();
    }

    @Test
    void aLargeOnePushesOutWhatIsTheSamePersons() {
        latest.put("t1", "plan", "tam", 300);
        latest.put("o1", "plan", "odile", 200);
        latest.put("o2", "plan", "odile", 350);

        assertThat(latest.get("o1")).isEmpty();
        assertThat(latest.get("o2")).isPresent();
        assertThat(latest.get("t1")).isPresent();
    }

    /** Whoever has just been shown something can agree to it, however large it is. */
    @Test
    void theLastOneStaysHoweverLargeItIs() {
        latest.put("o1", "plan", "odile", 5_000);

        assertThat(latest.get("o1")).isPresent();
    }

    @Test
    void allTogetherAreBoundedToo() {
        for (String person : new String[] {"odile", "tam", "una", "bo"}) {
            latest.put(person, "plan", person, 390);
        }

        assertThat(latest.get("odile")).isEmpty();
        assertThat(latest.get("tam")).isEmpty();
        assertThat(latest.get("una")).isPresent();
        assertThat(latest.get("bo")).isPresent();
    }
}
