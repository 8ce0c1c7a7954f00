package dev.vacancy.clusters;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.CyclicBarrier;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;

/** Several who begin at the same moment. */
final class Together {
    private Together() {}

    /** Does all of it at once, and gives what came of each. */
    static <T> List<T> call(List<? extends Callable<? extends T>> tasks)
            throws InterruptedException, ExecutionException {
        ExecutorService threads = Executors.newFixedThreadPool(tasks.size());
        CyclicBarrier barrier = new CyclicBarrier(tasks.size());
        try {
            List<Future<T>> futures = new ArrayList<>();
            for (Callable<? extends T> task : tasks) {
                futures.add(threads.submit(() -> {
                    barrier.await();
                    return task.call();
                }));
            }
            List<T> results = new ArrayList<>();
            for (Future<T> future : futures) {
                results.add(future.get());
            }
            return results;
        } finally {
            threads.shutdownNow();
        }
    }
}
