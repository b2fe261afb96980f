<?php

namespace Pestle\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\BeatRecord;
use Pestle\App\Entity\Upload;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Live\LiveSets;
use Pestle\App\Live\LiveState;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Song\LiveChoice;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;

/** A beat is performed: what is chosen comes at its bar, is heard so, and is the song in the end, to the bit. */
final class LiveTest extends AppCase
{
    private const BAR = 3840;
    private static int $beat;

    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        self::ask('POST', '/beats');
        self::$beat = self::service(Beats::class)->all()[0]->id;
        foreach (['a0' => [3, 'kick'], 'a1' => [4, 'snare']] as $pad => [$seed, $role]) {
            $sample = self::sample('Hit '.$seed, Sounds::hit($seed, 9000));
            self::made(self::$beat, ['type' => 'fill-pad', 'pad' => $pad, 'sample' => $sample->hash, 'name' => $sample->name, 'role' => $role, 'start' => 0, 'end' => 9000]);
        }
        self::made(self::$beat, ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 2]);
        self::made(self::$beat, ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 110], [5000, 'a0', 90]]]);
        self::made(self::$beat, ['type' => 'add-pattern', 'id' => 'p2', 'name' => 'Other', 'part' => 'part-1']);
        self::made(self::$beat, ['type' => 'edit-hits', 'pattern' => 'p2', 'hits' => [[960, 'a1', 110]]]);
    }

    public function testItIsBegunChosenHeardAndMadeTheSong(): void
    {
        self::assertSame(['version' => 0], self::json(self::ask('GET', self::at())));
        self::assertSame(422, self::ask('POST', self::at('/choose'), ['patterns' => ['part-1' => 'p2'], 'at' => 0])->getStatusCode(), 'Nothing is performed yet.');
        $begun = self::json(self::ask('POST', self::at('/begin'), ['section' => 's1']));
        self::assertSame([1, 0, 0], [$begun['version'], $begun['segment'], $begun['now']]);

        // Chosen in the second bar it comes with the third; once more, and it is taken back; and then for the fourth.
        $chosen = self::json(self::ask('POST', self::at('/choose'), ['patterns' => ['part-1' => 'p2'], 'at' => 5000]));
        self::assertSame([2, 2 * self::BAR], [$chosen['version'], self::choices($chosen)[1]['tick']]);
        $back = self::json(self::ask('POST', self::at('/take-back'), ['choice' => self::choices($chosen)[1]['id'], 'at' => 5100]));
        self::assertCount(1, self::choices($back));
        self::ask('POST', self::at('/choose'), ['patterns' => ['part-1' => 'p2'], 'at' => 2 * self::BAR + 1]);
        self::ask('POST', self::at('/choose'), ['patterns' => ['part-1' => ''], 'at' => 3 * self::BAR + 1, 'wait' => 'beat']);
        $now = self::json(self::ask('POST', self::at('/choose'), ['section' => 's1', 'at' => 4 * self::BAR + 3, 'wait' => 'now']));
        self::assertSame([0, 3 * self::BAR, 3 * self::BAR + 960, 4 * self::BAR + 240], array_column(self::choices($now), 'tick'));
        self::assertStringContainsString('"spans":[{"from":0,"pattern":"p1"', (string) json_encode($now['rows']));
        self::assertSame(4, substr_count((string) json_encode($now['rows']), '"pattern":'));

        // Another window sees the same, and joins in where it is.
        $other = self::json(self::ask('GET', self::at('?play')));
        self::assertSame($now['version'], $other['version']);
        self::assertSame(4 * self::BAR + 3, $other['from']);
        self::assertGreaterThan(20, $other['segment']);

        $heard = self::heard('live/4', 44);
        self::assertGreaterThan(0.01, $heard->peak());
        $record = self::record();
        self::made(self::$beat, ['type' => 'perform-song', 'choices' => $now['choices'], 'from' => 0, 'to' => 6 * self::BAR]);
        $song = self::service(Beats::class)->content(self::record());
        self::assertSame(6 * self::BAR, array_sum(array_map(static fn ($e): int => $e->repeats * $song->section($e->section)->lengthTicks($song->patterns), $song->song)));
        self::assertEquals($heard, self::heard('', 44), 'To the bit.');
        self::ask('POST', '/beats/'.self::$beat.'/undo', [], ['X-Pestle-Head' => (string) self::record()->head]);
        self::assertEquals(self::service(Beats::class)->content($record), self::service(Beats::class)->content(self::record()));

        // However short something is held, it is heard; held for longer it lasts as long.
        foreach ([['at' => 5 * self::BAR, 'held' => ['tone' => true]], ['at' => 5 * self::BAR, 'held' => ['tone' => false]], ['at' => 5 * self::BAR + 500, 'held' => ['tone' => true]], ['at' => 6 * self::BAR + 1, 'held' => ['tone' => false]]] as $fields) {
            $held = self::json(self::ask('POST', self::at('/choose'), [...$fields, 'wait' => 'now']));
        }
        self::assertStringContainsString('"times":[[19200,19260],[19920,23280]]', (string) json_encode($held['held'] ?? []));
        // Eight bars back is before it began: it begins there, without what came later.
        $forgotten = self::json(self::ask('POST', self::at('/forget'), ['bars' => 2, 'at' => 5 * self::BAR + 100]));
        self::assertSame([3 * self::BAR, 1], [$forgotten['from'], \count(self::choices($forgotten))]);
        self::assertSame(0, self::json(self::ask('POST', self::at('/forget'), ['bars' => 8, 'at' => 5 * self::BAR]))['from']);
    }

    /** Its last bars become a sound, exactly as long, that goes round as it was heard. */
    public function testBarsAreCaughtAsASound(): void
    {
        self::ask('POST', self::at('/begin'), ['section' => 's1']);
        self::ask('POST', self::at('/choose'), ['patterns' => ['part-1' => 'p2'], 'at' => self::BAR + 10]);
        $caught = self::json(self::ask('POST', self::at('/catch'), ['bars' => 2, 'at' => 4 * self::BAR + 99, 'wet' => true]));
        self::work();
        $upload = self::service(EntityManagerInterface::class)->find(Upload::class, self::text($caught['id'])) ?? self::fail('It is gone.');
        self::assertSame(Upload::DONE, $upload->state, $upload->message);
        $sample = self::service(SampleStore::class)->find((string) $upload->sample) ?? self::fail('It is not in the library.');
        $tempo = self::service(Beats::class)->content(self::record())->tempo;
        self::assertSame($tempo->frames(2 * self::BAR, 44100), $sample->frames);
        self::assertStringContainsString('bars 3 to 4', $sample->name);
        self::assertSame(2, $sample->bars());
        // It is the second of the two patterns that plays there, from its start: its hit falls on the second beat.
        $sound = SoundFile::open(self::service(SampleStore::class)->library()->path($sample->hash))->read(0, $sample->frames);
        $beat = $tempo->frames(960, 44100);
        self::assertGreaterThan(0.05, $sound->slice($beat, 2000)->peak());
        self::assertGreaterThan(20.0 * $sound->slice($beat - 3000, 2000)->peak(), $sound->slice($beat, 2000)->peak());
    }

    /** @return iterable<string, array{string, array<string, mixed>, string}> */
    public static function wrong(): iterable
    {
        yield 'no part' => ['/choose', ['patterns' => ['part-9' => 'p2'], 'at' => 0], 'part'];
        yield 'no pattern' => ['/choose', ['patterns' => ['part-1' => 'p9'], 'at' => 0], 'pattern'];
        yield 'nothing' => ['/choose', ['at' => 0], 'patterns must say what is chosen.'];
        yield 'no place' => ['/choose', ['patterns' => ['part-1' => 'p2'], 'at' => -1], 'at'];
        yield 'no effect' => ['/choose', ['held' => ['fog' => true], 'at' => 0], 'held must be one of: tone, thin, echo, stutter, half, backwards.'];
        yield 'no section' => ['/begin', ['section' => 's9'], 'section'];
        yield 'nothing caught' => ['/catch', ['bars' => 65, 'at' => 0, 'wet' => true], 'bars'];
        yield 'no bars' => ['/forget', ['bars' => 0, 'at' => 0], 'bars'];
    }

    /** @param array<string, mixed> $fields */
    #[DataProvider('wrong')]
    public function testWhatCannotBeIsToldAndChangesNothing(string $what, array $fields, string $told): void
    {
        self::ask('POST', self::at('/begin'), ['section' => 's1']);
        $before = self::json(self::ask('GET', self::at()));
        $answer = self::ask('POST', self::at($what), $fields);
        self::assertSame(422, $answer->getStatusCode());
        self::assertStringContainsString($told, self::text(self::json($answer)['error']));
        self::assertSame($before, self::json(self::ask('GET', self::at())));
    }

    /** Two windows, and more, choose at once: nothing of it is lost. */
    public function testManyChooseAtOnce(): void
    {
        self::ask('POST', self::at('/begin'), ['section' => 's1']);
        $sets = self::service(LiveSets::class);
        $record = self::record();
        $before = $sets->of($record)->version ?? 0;
        $children = [];
        for ($who = 0; $who < 4; ++$who) {
            $pid = pcntl_fork();
            if (0 === $pid) {
                for ($i = 0; $i < 10; ++$i) {
                    $sets->change($record, static fn (?LiveState $was): LiveState => ($was ?? throw new \LogicException())->with($was->set->with(new LiveChoice($was->set->nextId(), (10 * $who + $i + 1) * self::BAR, ['part-1' => 'p2']), (10 * $who + $i + 1) * self::BAR)));
                }
                // Not what a test does at its end: that is its parent's.
                posix_kill((int) getmypid(), \SIGKILL);
            }
            $children[] = $pid;
        }
        foreach ($children as $pid) {
            pcntl_waitpid($pid, $status);
        }
        $after = $sets->of($record) ?? self::fail('It is gone.');
        self::assertSame($before + 40, $after->version);
        $ids = array_column($after->set->choices, 'id');
        self::assertSame($ids, array_values(array_unique($ids)), 'Each has a name of its own.');
        self::assertSame(array_column($after->set->choices, 'tick'), array_values(array_unique(array_column($after->set->choices, 'tick'))));
    }

    public function testMoreThanASongHoldsIsRefused(): void
    {
        self::ask('POST', self::at('/begin'), ['section' => 's1']);
        for ($i = 1; $i < 95; ++$i) {
            self::assertSame(200, self::ask('POST', self::at('/choose'), ['patterns' => ['part-1' => ['p1', 'p2', ''][$i % 3]], 'at' => $i * self::BAR - 10])->getStatusCode());
        }
        $refused = self::ask('POST', self::at('/choose'), ['patterns' => ['part-1' => 'p1'], 'at' => 95 * self::BAR]);
        self::assertSame(422, $refused->getStatusCode());
        self::assertStringContainsString('Make it the song', self::text(self::json($refused)['error']));
        self::assertSame(200, self::ask('GET', '/beats/'.self::$beat.'/piece?what=&from=300&count=1&hear=live/9')->getStatusCode());
        // However long nothing is chosen, there is more ahead.
        self::ask('POST', self::at('/now'), ['at' => 2000 * self::BAR]);
        self::assertSame(200, self::ask('GET', '/beats/'.self::$beat.'/piece?what=&from=40000&count=1&hear=live/9')->getStatusCode());
    }

    private static function at(string $what = ''): string
    {
        return '/beats/'.self::$beat.'/live'.$what;
    }

    private static function record(): BeatRecord
    {
        return self::service(Beats::class)->find(self::$beat) ?? self::fail('The beat is gone.');
    }

    /**
     * @param array<string, mixed> $state
     *
     * @return list<array<string, mixed>>
     */
    private static function choices(array $state): array
    {
        self::assertIsArray($state['choices']);

        return array_map(static function (mixed $choice): array {
            self::assertIsArray($choice);
            $named = [];
            foreach ($choice as $name => $value) {
                $named[(string) $name] = $value;
            }

            return $named;
        }, array_values($state['choices']));
    }

    private static function heard(string $hear, int $segments): StereoBlock
    {
        [$answer, $bytes] = self::sound(self::ask('GET', '/beats/'.self::$beat."/piece?what=&from=0&count=$segments&hear=$hear"));
        self::assertArrayNotHasKey('error', $answer);
        $values = array_values(unpack('l*', $bytes) ?: []);
        [$left, $right] = [[], []];
        foreach ($values as $i => $value) {
            $value = \is_int($value) ? $value / 8388608.0 : \NAN;
            0 === $i % 2 ? $left[] = $value : $right[] = $value;
        }

        return new StereoBlock($left, $right);
    }
}
