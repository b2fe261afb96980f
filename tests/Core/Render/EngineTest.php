<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Render\Engine;
use Pestle\Core\Render\EngineClient;
use Pestle\Core\Render\EngineServer;
use Pestle\Core\Render\Measured;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Render\TakesTooLong;
use Pestle\Core\Render\Wire;
use Pestle\Core\Song\Entry;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;

/** The resident renderer as it runs: a process behind a socket. */
final class EngineTest extends TestCase
{
    /** @var resource */
    private $process;
    private EngineClient $client;
    private string $socket;
    private RandomBeats $beats;

    protected function setUp(): void
    {
        $this->beats = new RandomBeats(Sounds::folder());
        $socket = $this->socket = Sounds::folder().'/engine.sock';
        $command = [\PHP_BINARY, \dirname(__DIR__, 3).'/bin/engine', $socket, $this->beats->folder, Sounds::folder()];
        $this->process = proc_open($command, [1 => ['file', '/dev/null', 'w'], 2 => ['file', '/dev/null', 'w']], $pipes) ?: throw new \RuntimeException();
        // Its socket is there a moment before somebody listens.
        for ($i = 0; $i < 200 && false === $line = @stream_socket_client('unix://'.$socket); ++$i) {
            usleep(50_000);
        }
        $line = null;
        $this->client = new EngineClient($socket, static fn (): Engine => throw new \LogicException('The engine is not running.'));
    }

    protected function tearDown(): void
    {
        proc_terminate($this->process);
        proc_close($this->process);
    }

    public function testAnEditSendsOnlyWhatChangedAndAddsUpToTheWhole(): void
    {
        $beat = RandomBeats::changed($this->beats->beat(3), [['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 4], ['type' => 'set', 'under' => 'mixer/drums/inserts/i1', 'on' => 0, 'thresholdDb' => 0, 'ratio' => 1, 'attackMs' => 1, 'releaseMs' => 9, 'makeupDb' => 0]]);
        [$first, $sound] = $this->client->ask(['op' => 'loop', 'beat' => BeatCodec::encode($beat), 'what' => 'p1', 'have' => '']);
        self::assertFalse($first['patch']);
        self::assertSame(8 * self::int($first['frames']), \strlen($sound));

        $edited = RandomBeats::changed($beat, [['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[10000, 'a0', 120]]]]);
        [$second, $patch] = $this->client->ask(['op' => 'loop', 'beat' => BeatCodec::encode($edited), 'what' => 'p1', 'have' => $first['render']]);
        self::assertTrue($second['patch']);
        self::assertLessThan(\strlen($sound), \strlen($patch));
        $at = 0;
        self::assertIsArray($second['changed']);
        foreach ($second['changed'] as $changed) {
            self::assertIsArray($changed);
            [$start, $frames] = [self::int($changed[0]), self::int($changed[1])];
            $sound = substr_replace($sound, substr($patch, $at, 8 * $frames), 8 * $start, 8 * $frames);
            $at += 8 * $frames;
        }
        self::assertSame(\strlen($patch), $at);
        [, $whole] = $this->client->ask(['op' => 'loop', 'beat' => BeatCodec::encode($edited), 'what' => 'p1', 'have' => 'unknown']);
        self::assertSame(md5($whole), md5($sound));
        [$third, $nothing] = $this->client->ask(['op' => 'loop', 'beat' => BeatCodec::encode($edited), 'what' => 'p1', 'have' => $second['render']]);
        self::assertSame([[], ''], [$third['changed'], $nothing]);
        $faster = RandomBeats::changed($edited, [['type' => 'set-tempo', 'bpm' => 200]]);
        [$fourth, $all] = $this->client->ask(['op' => 'loop', 'beat' => BeatCodec::encode($faster), 'what' => 'p1', 'have' => $second['render']]);
        self::assertFalse($fourth['patch'], 'another length is sent whole');
        self::assertSame(8 * self::int($fourth['frames']), \strlen($all));
    }

    public function testASongComesInPiecesThatJoin(): void
    {
        $beat = RandomBeats::changed($this->beats->beat(1), [['type' => 'set', 'song/e1/repeats' => 2]]);
        $json = BeatCodec::encode($beat);
        [$all, $whole] = $this->client->ask(['op' => 'piece', 'beat' => $json, 'from' => 0, 'count' => 64]);
        self::assertNull($all['next']);
        $joined = '';
        for ($from = 0; null !== $from; $from = null === $answer['next'] ? null : self::int($answer['next'])) {
            [$answer, $sound] = $this->client->ask(['op' => 'piece', 'beat' => $json, 'from' => $from, 'count' => 5]);
            self::assertSame(\strlen($joined) >> 3, $answer['start']);
            $joined .= $sound;
        }
        self::assertSame(md5($whole), md5($joined));
    }

    public function testALongLoopComesInPiecesAndGoesRound(): void
    {
        $beat = RandomBeats::changed($this->beats->beat(1), [['type' => 'set-tempo', 'bpm' => 60], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 8]]);
        $json = BeatCodec::encode($beat);
        [$about, $sound] = $this->client->ask(['op' => 'loop', 'beat' => $json, 'what' => 'p1']);
        self::assertSame([true, 32 * 44100, 8 * 3840, ''], [$about['long'] ?? null, $about['frames'], $about['ticks'], $sound]);
        $segments = (int) ceil(32 * 44100 / 4096);
        $round = '';
        for ($from = 0; $from < 3 * $segments; $from = self::int($answer['next'])) {
            [$answer, $sound] = $this->client->ask(['op' => 'piece', 'beat' => $json, 'what' => 'p1', 'from' => $from, 'count' => 57]);
            self::assertSame(\strlen($round) >> 3, $answer['start']);
            $round .= $sound;
        }
        // From the second time round on it is the loop that is delivered.
        $sounds = new PadSounds(new SampleLibrary($this->beats->folder), 44100);
        $delivered = '';
        foreach ((new Renderer($sounds, SegmentCache::none()))->stream(Plan::loop($beat, 'p1', $sounds)) as $moment) {
            $delivered .= $moment->mix->packed() ?: str_repeat("\0", 8 * $moment->segment->frames);
        }
        $pass = \strlen($delivered);
        self::assertSame(8 * 32 * 44100, $pass);
        self::assertSame([md5($delivered), md5($delivered)], [md5(substr($round, $pass, $pass)), md5(substr($round, 2 * $pass, $pass))]);
    }

    /** What is long is measured in parts; asked again until it is done, it is what the whole measures. */
    public function testALongSongIsMeasuredInParts(): void
    {
        $beat = RandomBeats::dry(RandomBeats::changed($this->beats->beat(1), [['type' => 'set-tempo', 'bpm' => 60], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 9]]));
        $told = [];
        do {
            [$answer] = $this->client->ask(['op' => 'measure', 'beat' => BeatCodec::encode($beat), 'what' => 'p1']);
            $told[] = $answer['done'] ?? 1.0;
        } while (isset($answer['more']));
        self::assertCount(2, $told);
        self::assertEqualsWithDelta(320 * 4096 / (36 * 44100), $told[0], 0.02);
        $sounds = new PadSounds(new SampleLibrary($this->beats->folder), Beat::SAMPLE_RATE);
        $measured = new Measured($beat);
        foreach ((new Renderer($sounds, SegmentCache::none()))->stream(Plan::song($beat, [Entry::once('p1')], $sounds)) as $moment) {
            $measured->add($moment);
        }
        self::assertEquals($measured->all(), array_intersect_key($answer, $measured->all()));
    }

    public function testAfterALateEditASongGoesOnToTheBit(): void
    {
        $long = RandomBeats::changed($this->beats->beat(4), [['type' => 'add-pattern', 'id' => 'p2', 'name' => 'Last', 'copyOf' => 'p1'], ['type' => 'set', 'song/e1/repeats' => 6], ['type' => 'add-section', 'id' => 's2', 'name' => 'Last'], ['type' => 'set-cell', 'section' => 's2', 'part' => 'part-1', 'pattern' => 'p2']]);
        $edited = RandomBeats::changed($long, [['type' => 'edit-hits', 'pattern' => 'p2', 'hits' => [[1920, 'a0', 127]]]]);
        $ask = fn (Beat $beat, int $from, int $count): string => $this->client->ask(['op' => 'piece', 'beat' => BeatCodec::encode($beat), 'from' => $from, 'count' => $count])[1];
        $whole = $ask($edited, 0, 64).$ask($edited, 64, 64);
        $other = $ask($long, 0, 64).$ask($long, 64, 32);
        self::assertNotSame($whole, $other);
        self::assertSame(md5(substr($whole, -400_000)), md5(substr($other.$ask($edited, 96, 64), -400_000)), 'from the middle of what it knew');
        // With another mixer, and from a place where nothing is known, it is there after the memory of its filters.
        $louder = RandomBeats::changed($edited, [['type' => 'set', 'under' => 'mixer/c1', 'gainDb' => -7]]);
        $exact = $ask($louder, 0, 64).$ask($louder, 64, 64);
        $middle = $ask($louder, 60, 64);
        self::assertSame(md5(substr($exact, -200_000)), md5(substr($middle, -200_000)));
    }

    public function testWhileALoopIsWorkedOnAStruckPadIsAnswered(): void
    {
        $beat = RandomBeats::changed($this->beats->beat(2), [['type' => 'set-tempo', 'bpm' => 70], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 8]]);
        $asked = [];
        foreach ([['op' => 'loop', 'what' => 'p1', 'have' => ''], ['op' => 'loop', 'what' => 'p1', 'have' => 'x'], ['op' => 'pad', 'pad' => 'a0']] as $i => $request) {
            $asked[$i] = stream_socket_client('unix://'.$this->socket) ?: throw new \RuntimeException();
            Wire::write($asked[$i], [...$request, 'beat' => BeatCodec::encode($beat)]);
            usleep(30_000);
        }
        // Who hangs up is forgotten, and nobody else.
        fclose($asked[0]);
        $pad = Wire::read($asked[2]);
        self::assertIsInt($pad[0]['frames'] ?? null);
        [$read, $none] = [[$asked[1]], null];
        self::assertSame(0, stream_select($read, $none, $none, 0), 'the loop is not there yet');
        self::assertIsInt(Wire::read($asked[1])[0]['frames'] ?? null);
    }

    /** A struck pad is to the bit what the beat would be with nothing but that hit. */
    /** Of more than it holds at once, those on which least was done make room, and the newest is answered before those that wait. */
    public function testTheNewestIsAnsweredFirstAndTheOldestMakesRoom(): void
    {
        $beat = RandomBeats::changed($this->beats->beat(3), [['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 2]]);
        $lines = [];
        for ($i = 0; $i < EngineServer::MOST + 2; ++$i) {
            $lines[$i] = stream_socket_client('unix://'.$this->socket) ?: self::fail('No line.');
            $own = RandomBeats::changed($beat, [['type' => 'set-tempo', 'bpm' => 90 + $i]]);
            Wire::write($lines[$i], ['op' => 'loop', 'beat' => BeatCodec::encode($own), 'what' => 'p1', 'have' => '']);
        }
        $order = $dropped = [];
        while ([] !== $read = array_values($lines)) {
            $write = $except = [];
            stream_select($read, $write, $except, 60);
            foreach ($read as $line) {
                $i = (int) array_search($line, $lines, true);
                [$answer, $sound] = Wire::read($line) ?? self::fail('Hung up.');
                isset($answer['dropped']) ? $dropped[] = $i : $order[] = $i;
                self::assertSame(isset($answer['dropped']), '' === $sound);
                fclose($line);
                unset($lines[$i]);
            }
        }
        self::assertCount(2, $dropped);
        self::assertNotContains(EngineServer::MOST + 1, $dropped);
        self::assertCount(EngineServer::MOST, $order);
        self::assertContains(EngineServer::MOST + 1, \array_slice($order, 0, 4), 'the newest is not among those that wait');
    }

    /** What plays is asked for piece after piece; on a slow machine there is always one that is not worked out yet. */
    public function testTheWholeIsWorkedOutHoweverManyPiecesGoFirst(): void
    {
        $beat = $this->beats->beat(3);
        $line = fn () => stream_socket_client('unix://'.$this->socket) ?: self::fail('No line.');
        Wire::write($whole = $line(), ['op' => 'loop', 'what' => 'p1', 'beat' => BeatCodec::encode($beat), 'have' => '']);
        $lines = [$line(), $line()];
        $piece = static fn (int $n): array => ['op' => 'piece', 'what' => 'p1', 'soon' => true, 'from' => 2, 'count' => 3, 'beat' => BeatCodec::encode(RandomBeats::changed($beat, [['type' => 'set-tempo', 'bpm' => 90 + $n / 10]]))];
        $pieces = 0;
        foreach ($lines as $one) {
            Wire::write($one, $piece(++$pieces));
        }
        while ($pieces < 400) {
            $read = [$whole, ...$lines];
            $write = $except = [];
            self::assertGreaterThan(0, stream_select($read, $write, $except, 60));
            foreach ($read as $one) {
                $answer = Wire::read($one) ?? self::fail('Hung up.');
                if ($one === $whole) {
                    self::assertNotSame('', $answer[1]);
                    self::assertGreaterThan(5, $pieces, 'Pieces waited for the whole.');

                    return;
                }
                Wire::write($one, $piece(++$pieces));
            }
        }
        self::fail('Four hundred pieces were worked out, and not the whole.');
    }

    public function testAPadIsHeardThroughAllLinesItMeets(): void
    {
        $beat = RandomBeats::changed($this->beats->parts(1), [['type' => 'set-layer', 'pad' => 'a0', 'delayMs' => 12.5], ['type' => 'set-pad', 'pad' => 'a0', 'mode' => 'one-shot'], ['type' => 'set', 'under' => 'mixer', 'master/gainDb' => 12, 'c1/mute' => 0]]);
        foreach ([127, 60] as $velocity) {
            [$answer, $struck] = $this->client->ask(['op' => 'pad', 'beat' => BeatCodec::encode($beat), 'pad' => 'a0', 'velocity' => $velocity]);
            self::assertSame(\strlen($struck), 8 * self::int($answer['frames']));
            $alone = RandomBeats::changed($beat, [['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 64], ['type' => 'edit-hits', 'pattern' => 'p1', 'take' => array_map(static fn (Hit $hit): array => [$hit->tick, $hit->pad], $beat->pattern('p1')->hits), 'hits' => [[0, 'a0', $velocity]]]]);
            $whole = '';
            $renderer = new Renderer($sounds = new PadSounds(new SampleLibrary($this->beats->folder), Beat::SAMPLE_RATE), SegmentCache::none());
            foreach ($renderer->stream(Plan::song($alone, [Entry::once('p1')], $sounds)) as $moment) {
                $whole .= $moment->mix->packed() ?: str_repeat("\0", 8 * $moment->segment->frames);
                if (\strlen($whole) > \strlen($struck)) {
                    break;
                }
            }
            self::assertGreaterThan(0.01, self::peak($struck));
            self::assertSame(0.0, self::peak(substr($struck, -8 * 1000)), 'its echoes ring on to their end');
            self::assertSame(md5(substr($whole, 0, \strlen($struck))), md5($struck));
        }
    }

    /** The beginning comes before the rest is worked out; joined they are the whole, also where the engine has forgotten what it began. */
    public function testPiecesOfAStruckPadAddUpToTheWhole(): void
    {
        $beat = RandomBeats::changed($this->beats->parts(1), [['type' => 'set-pad', 'pad' => 'a0', 'mode' => 'one-shot'], ['type' => 'set-layer', 'pad' => 'a0', 'delayMs' => 700.0]]);
        $ask = fn (?int $piece = null): array => $this->client->ask(['op' => 'pad', 'beat' => BeatCodec::encode($beat), 'pad' => 'a0'] + (null === $piece ? [] : ['piece' => $piece]));
        [$answer, $whole] = $ask();
        self::assertFalse($answer['more']);
        $pieces = [];
        do {
            [$answer, $pieces[]] = $ask(\count($pieces));
        } while ($answer['more']);
        self::assertGreaterThan(2, \count($pieces));
        self::assertLessThan(0.2 * Beat::SAMPLE_RATE, \strlen($pieces[0]) / 8);
        self::assertSame(md5($whole), md5(implode('', $pieces)));
        foreach ([2, 1, 0] as $i) {
            self::assertSame(md5($pieces[$i]), md5($ask($i)[1]));
        }
        self::assertSame(0, \strlen($ask(30)[1]));
    }

    public function testALevelIsHeardInAStruckPad(): void
    {
        $beat = RandomBeats::changed($this->beats->beat(1), [['type' => 'set', 'under' => 'mixer', 'drums/inserts/i1/on' => 0, 'master/gainDb' => -12]]);
        [, $loud] = $this->client->ask(['op' => 'pad', 'beat' => BeatCodec::encode($beat), 'pad' => 'a0']);
        $quieter = RandomBeats::changed($beat, [['type' => 'set', 'under' => 'mixer/c1', 'gainDb' => $beat->channel('c1')->gainDb - 20]]);
        [, $soft] = $this->client->ask(['op' => 'pad', 'beat' => BeatCodec::encode($quieter), 'pad' => 'a0']);
        self::assertEqualsWithDelta(10.0, self::peak($loud) / self::peak($soft), 0.01);
    }

    public function testNonsenseIsAnsweredWithASentence(): void
    {
        foreach ([['op' => 'dance'], ['op' => 'loop', 'beat' => '{}', 'what' => 'p1'], ['op' => 'pad', 'beat' => BeatCodec::encode($this->beats->beat(1)), 'pad' => 'a15']] as $request) {
            [$answer] = $this->client->ask($request);
            self::assertIsString($answer['error'] ?? null);
        }
        self::assertTrue(proc_get_status($this->process)['running']);
        [$answer] = $this->client->ask(['op' => 'loop', 'beat' => BeatCodec::encode($this->beats->beat(1)), 'what' => 'p1']);
        self::assertIsInt($answer['frames'] ?? null);
    }

    public function testWithoutTheProcessTheSameIsDoneHere(): void
    {
        $request = ['op' => 'loop', 'beat' => BeatCodec::encode($this->beats->beat(2)), 'what' => 'p1', 'have' => ''];
        [, $there] = $this->client->ask($request);
        $here = new EngineClient('/nowhere', fn (): Engine => new Engine(new SampleLibrary($this->beats->folder), new SegmentCache(20_000_000)));
        self::assertSame(md5($there), md5($here->ask($request)[1]));
    }

    public function testOneThatIsBusyIsNotHelpedByDoingItsWorkBesideIt(): void
    {
        $silent = Sounds::folder().'/silent.sock';
        $server = stream_socket_server('unix://'.$silent);
        $client = new EngineClient($silent, static fn (): Engine => self::fail('Its work is done beside it.'), 0.2);
        try {
            $client->ask(['op' => 'dance']);
            self::fail('Nobody answers.');
        } catch (TakesTooLong $e) {
            self::assertStringContainsString('too long', $e->getMessage());
        }
        self::assertIsResource($server);
    }

    private static function int(mixed $value): int
    {
        self::assertIsInt($value);

        return $value;
    }

    private static function peak(string $sound): float
    {
        $peak = 0;
        /** @var array<int, int> $values */
        $values = unpack('V*', $sound);
        foreach ($values as $v) {
            $peak = max($peak, abs(($v << 32) >> 32));
        }

        return (float) $peak;
    }
}
