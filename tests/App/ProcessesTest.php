<?php

namespace Pestle\Tests\App;

use Pestle\App\Server\Processes;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** What a start finds of the last one: groups whose leader was killed, and nobody else who has its number now. */
final class ProcessesTest extends TestCase
{
    public function testChildrenWhoseLeaderWasKilledAreEnded(): void
    {
        $record = Sounds::folder().'/processes.json';
        $processes = new Processes($record);
        [$leader, $child] = self::group();
        [$other] = self::group();
        $processes->remember([$leader]);
        self::assertSame([$leader], $processes->left());
        posix_kill($leader, \SIGKILL);
        pcntl_waitpid($leader, $status);
        self::assertNotNull(Processes::start($child), 'the child lives on');
        self::assertSame([$leader], $processes->left());
        $processes->end();
        self::assertSame([], $processes->left());
        self::assertNull(Processes::start($child));
        self::assertNotNull(Processes::start($other), 'nobody else is ended');
        // Somebody who has the number of one on record, but began at another time.
        $processes->remember([$other]);
        file_put_contents($record, preg_replace('/\[(\d+),\d+\]/', '[$1,1]', (string) file_get_contents($record)));
        self::assertSame([], $processes->left());
        // A record of before the machine was started again says nothing.
        $processes->remember([$other]);
        file_put_contents($record, (string) preg_replace('/"boot":"[^"]+"/', '"boot":"before"', (string) file_get_contents($record)));
        self::assertSame([], $processes->left());
        posix_kill(-$other, \SIGKILL);
        pcntl_waitpid($other, $status);
    }

    /** @return array{int, int} a leader of a group of its own, and its child that hears no request to end */
    private static function group(): array
    {
        $told = Sounds::folder().'/child';
        $leader = proc_open(['setsid', 'sh', '-c', 'trap "" TERM; (trap "" TERM; sleep 60) & echo $! > "$0.part"; mv "$0.part" "$0"; wait', $told], [], $pipes);
        self::assertIsResource($leader);
        for ($i = 0; $i < 500 && !is_file($told); ++$i) {
            usleep(10_000);
        }

        return [proc_get_status($leader)['pid'], (int) file_get_contents($told)];
    }
}
