<?php

namespace Pestle\Tests\App;

use Pestle\App\Page\InsertPicture;
use Pestle\App\Page\InsertWords;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Mix\DelaySettings;
use Pestle\Core\Mix\DuckerSettings;
use Pestle\Core\Mix\FilterSettings;
use Pestle\Core\Mix\Gain;
use Pestle\Core\Mix\InsertKind;
use Pestle\Core\Mix\LimiterSettings;
use Pestle\Core\Mix\NoteLength;
use Pestle\Core\Mix\ReverbSettings;
use Pestle\Core\Mix\SweptShape;
use Pestle\Core\Mix\Timing;
use Pestle\Core\Render\Rendered;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Core\Theory\SoundRules;
use Pestle\Core\Theory\Tempo;
use Pestle\Tests\Core\Render\RandomBeats;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;

/** What Mix shows and asks for, over HTTP. */
final class MixPagesTest extends AppCase
{
    /** What has no meaning beside other settings is not shown. */
    private const HIDDEN = ['rateHz', 'ms', 'ringHz', 'vowel', 'time', 'sixteenths', 'offsetMs'];

    private static int $beat;

    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        $kit = new DrumVoices(44100);
        $changes = [['type' => 'set-tempo', 'bpm' => 120], ['type' => 'set-pattern', 'pattern' => 'p1', 'bars' => 1]];
        foreach (['Kick' => $kit->kick(), 'Hat' => $kit->openHat(), 'Snare' => $kit->snare()] as $name => $block) {
            $sample = self::sample($name, $block);
            $pad = 'a'.(\count($changes) - 2);
            $changes[] = ['type' => 'fill-pad', 'pad' => $pad, 'sample' => $sample->hash, 'name' => $name, 'role' => lcfirst($name), 'start' => 0, 'end' => $sample->frames];
        }
        $changes[] = ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 120], [1920, 'a0', 110], [960, 'a2', 100], [2880, 'a2', 110], ...array_map(static fn (int $i): array => [480 * $i, 'a1', 80], range(0, 7))]];
        self::$beat = self::service(Beats::class)->add(RandomBeats::changed(Beat::empty('Mixed'), $changes))->id;
    }

    /** @return iterable<string, array{InsertKind}> */
    public static function kinds(): iterable
    {
        foreach (InsertKind::cases() as $kind) {
            yield $kind->value => [$kind];
        }
    }

    /** Put in, it is opened with its name, its picture, every one of its settings and a way to take it off; at both ends of every range it is still drawn. */
    #[DataProvider('kinds')]
    public function testEveryInsertHasItsPage(InsertKind $kind): void
    {
        self::made(self::$beat, ['type' => 'add-insert', 'node' => 'c2', 'kind' => $kind->value]);
        $id = 'i3';
        $html = self::page('?channel=c2&insert='.$id);
        self::assertMatchesRegularExpression('~<h2>'.$kind->label().'</h2>~', $html);
        self::assertStringContainsString('Keep these settings aside', $html);
        $insert = self::service(Beats::class)->content(self::service(Beats::class)->find(self::$beat) ?? throw new \LogicException())->channel('c2')->insert($id);
        foreach (array_diff(array_keys($insert::parameters()), ['on']) as $field) {
            if (InsertKind::Equalizer !== $kind || 'mix' === $field) {
                self::assertTrue(str_contains($html, 'name="'.$field.'"') || str_contains($html, '"'.$field.'"') || str_contains($html, '&quot;'.$field) || \in_array($field, self::HIDDEN, true), $field.' cannot be set on the page.');
            }
        }
        foreach ($insert::parameters() as $field => $parameter) {
            foreach ([] !== $parameter->options() ? array_map($parameter->read(...), $parameter->options()) : (\is_bool($parameter->default) ? [true, false] : [$parameter->read($parameter->least), $parameter->read($parameter->most)]) as $value) {
                $set = $insert->with([$field => $value]);
                $picture = new InsertPicture($set, Tempo::bpm(97.0));
                self::assertMatchesRegularExpression('/^(M[-\d. ]+([HVL][-\d. ]*|M[-\d. ]+|Z)*)?$/', $picture->path(640, 132), $field);
                self::assertStringNotContainsString('nan', strtolower($picture->path(640, 132).$picture->response(640, 66)), $field);
                self::assertNotSame('', InsertWords::of($set));
                self::assertNotSame('', $picture->axis());
            }
        }
        self::made(self::$beat, ['type' => 'remove-insert', 'node' => 'c2', 'insert' => $id]);
        self::assertStringNotContainsString('<h2>'.$kind->label().'</h2>', InsertKind::Equalizer === $kind || InsertKind::Compressor === $kind ? '' : self::page('?channel=c2&insert='.$id));
    }

    public function testWhatIsSaidInAFewWords(): void
    {
        foreach ([
            'nothing above -3 dB' => (new LimiterSettings('i1'))->with(['ceilingDb' => -3.0]),
            'formant i' => (new FilterSettings('i1'))->with(['shape' => SweptShape::Formant, 'vowel' => 2.0]),
            'comb 441 Hz' => (new FilterSettings('i1'))->with(['shape' => SweptShape::Comb, 'cutoffHz' => 441.0]),
            '3/16, 25 %' => new DelaySettings('i1'),
            'at rest' => new DelaySettings('i1', false),
        ] as $words => $insert) {
            self::assertSame($words, InsertWords::of($insert));
        }
        // The higher the frequency the shorter it rings, down to what is drawn at the right end.
        $room = (new ReverbSettings('i1'))->with(['lowCutHz' => 20.0, 'highs' => 20.0]);
        // A vowel is drawn as loud as it is heard: lifted today, by the first rules not.
        $vowel = (new FilterSettings('i1'))->with(['shape' => SweptShape::Formant, 'vowel' => 2.0, 'on' => true]);
        $highest = static fn (SoundRules $rules): float => preg_match_all('/[ML][\d.]+ ([\d.]+)/', (new InsertPicture($vowel, Tempo::bpm(90.0), $rules))->path(640, 132), $y) ? (float) min([999.0, ...array_map(floatval(...), $y[1])]) : 999.0;
        self::assertEqualsWithDelta(12.0 * 132 / 60, $highest(SoundRules::First) - $highest(SoundRules::NEWEST), 3.0);
        preg_match_all('/[ML]\d+ ([\d.]+)/', (new InsertPicture($room, Tempo::bpm(90.0)))->response(640, 100), $heights);
        $y = array_map(floatval(...), $heights[1]);
        self::assertGreaterThan(8.0, $y[\count($y) - 1] - $y[160]);
        self::assertSame('', (new InsertPicture(new DelaySettings('i1'), Tempo::bpm(90.0)))->response(640, 100));
        // An echo that lies later is drawn further right.
        $first = static fn (float $off): float => (float) (preg_match('/M\d+ [\d.]+H\d+M([\d.]+)/', str_replace('M0 ', 'M0 ', (new InsertPicture((new DelaySettings('i1'))->with(['offsetMs' => $off, 'time' => NoteLength::Straight]), Tempo::bpm(90.0)))->path(640, 132)), $m) ? $m[1] : 0.0);
        self::assertEqualsWithDelta(640.0 * 0.04 / 2.0, $first(40.0) - $first(0.0), 0.2);
    }

    /** From gentle to abrupt, and in time: what a way sets is what it says, and it is back by the end of its note. */
    public function testADuckerStepsBackByOneControl(): void
    {
        $ways = DuckerSettings::ways();
        foreach (['attackMs', 'holdMs', 'releaseMs'] as $field) {
            $times = array_column($ways, $field);
            $sorted = $times;
            rsort($sorted);
            self::assertSame($sorted, $times, $field);
        }
        self::assertSame(0.0, $ways['abrupt']['attackMs']);
        $tempo = Tempo::bpm(120.0);
        foreach ([1, 4] as $sixteenths) {
            $ducker = (new DuckerSettings('i1'))->with(['depthDb' => 20.0, 'attackMs' => 0.0, ...DuckerSettings::backAfter($sixteenths, $tempo)]);
            $frames = (int) (0.125 * $sixteenths * 44100);
            $tone = array_fill(0, $frames + 100, 0.5);
            $key = [0.8, ...array_fill(0, $frames + 99, 0.0)];
            $insert = $ducker->insert(new Timing(44100.0, $tempo));
            [$out] = $insert->process(new StereoBlock($tone, $tone), new StereoBlock($key, $key), $insert->rest(), 0);
            self::assertEqualsWithDelta(0.05, $out->left[(int) (0.4 * $frames)], 1e-4);
            self::assertGreaterThan(0.44, $out->left[$frames]);
        }
        self::made(self::$beat, ['type' => 'add-insert', 'node' => 'c2', 'kind' => 'ducker']);
        self::assertMatchesRegularExpression('~class="btn slim" aria-pressed="true" hx-post="changes" hx-vals="[^"]*">usual</button>~', self::page('?channel=c2&insert=i3'));
        self::made(self::$beat, ['type' => 'set', 'under' => 'mixer/c2/inserts/i3', ...$ways['gentle']]);
        self::assertMatchesRegularExpression('~aria-pressed="true" hx-post="changes" hx-vals="[^"]*">gentle</button>~', self::page('?channel=c2&insert=i3'));
        self::made(self::$beat, ['type' => 'remove-insert', 'node' => 'c2', 'insert' => 'i3']);
    }

    public function testASpectrumAndWhoCoversWhomAreTold(): void
    {
        $answer = self::asked('spectrum?what=s1&lines=c1%20c2%20master%20none');
        self::assertSame(4096, $answer['every']);
        self::assertIsArray($answer['lines']);
        self::assertSame(['c1', 'c2', 'master'], array_keys($answer['lines']));
        $middle = static function (mixed $line): float {
            self::assertIsArray($line);
            $powers = array_map(static fn (string $byte): float => 10.0 ** (\ord($byte) / 25.0), str_split(base64_decode(\is_string($line['mean']) ? $line['mean'] : '', true) ?: ''));
            self::assertCount(60, $powers);

            return array_sum(array_map(static fn (float $p, int $b): float => $p * $b, $powers, array_keys($powers))) / array_sum($powers) / 60.0;
        };
        self::assertLessThan(0.3, $middle($answer['lines']['c1']), 'a kick lies low');
        self::assertGreaterThan(0.5, $middle($answer['lines']['c2']), 'a hat lies high');
        self::made(self::$beat, ['type' => 'set', 'under' => 'mixer', 'c2/gainDb' => 12, 'c3/gainDb' => -30]);
        $covered = self::asked('spectrum?what=s1')['covered'];
        self::assertIsArray($covered);
        self::assertContains(['c3', 'c2'], array_map(static fn (mixed $pair): array => \is_array($pair) ? [$pair['line'], $pair['by']] : [], $covered));
        self::made(self::$beat, ['type' => 'set', 'under' => 'mixer', 'c2/gainDb' => 0, 'c3/gainDb' => 0]);
        self::assertTrue(self::asked('spectrum?what=s99')['gone'] ?? false);
    }

    public function testAStretchOfTheLoopIsTheLoop(): void
    {
        $path = '/beats/'.self::$beat.'/loop';
        [$whole, $sound] = self::sound(self::ask('POST', $path, ['what' => 's1']));
        [$stretch, $part] = self::sound(self::ask('POST', $path, ['what' => 's1', 'from' => 5, 'count' => 4]));
        self::assertSame([5 * 4096, 4 * 4096, $whole['frames']], [$stretch['start'], $stretch['frames'], $stretch['music']]);
        // It begins a second before, so that what rings longer is not all there.
        self::assertLessThan(1e-3, Gain::difference(Rendered::unpack(substr($sound, 8 * 5 * 4096, 8 * 4 * 4096)), Rendered::unpack($part))->peak());
        // As it would be after a change, or heard otherwise; nothing of it is stored.
        [, $quiet] = self::sound(self::ask('POST', $path, ['what' => 's1', 'from' => 5, 'count' => 4, 'preview' => ['type' => 'set', 'mixer/master/gainDb' => -20]]));
        self::assertGreaterThan(5.0 * self::loudest($quiet), self::loudest($part));
        self::made(self::$beat, ['type' => 'keep-mix', 'id' => 'm1', 'name' => 'Loud']);
        self::made(self::$beat, ['type' => 'set', 'mixer/master/gainDb' => -20]);
        [, $now] = self::sound(self::ask('POST', $path, ['what' => 's1']));
        [, $kept] = self::sound(self::ask('POST', $path, ['what' => 's1', 'hear' => 'mix/m1']));
        self::assertTrue($sound === $kept);
        self::assertLessThan(self::loudest($kept), self::loudest($now));
        // As it was before the last change, whatever that was.
        [, $before] = self::sound(self::ask('POST', $path, ['what' => 's1', 'hear' => 'before']));
        self::assertTrue($sound === $before);
        self::made(self::$beat, ['type' => 'recall-mix', 'id' => 'm1']);
        [, $back] = self::sound(self::ask('POST', $path, ['what' => 's1']));
        self::assertTrue($sound === $back);
    }

    public function testAdviceIsGivenForWhatWasMeasured(): void
    {
        $ask = static fn (array $more): \Symfony\Component\HttpFoundation\Response => self::ask('GET', '/beats/'.self::$beat.'/advice?'.http_build_query([...['target' => -14, 'integratedLufs' => -20, 'truePeakDb' => -3, 'limiterDb' => -1, 'correlation' => 0.9, 'peaksDb' => '{"c1":-10}'], ...$more]));
        $answer = self::json($ask([]))['advice'];
        self::assertIsArray($answer);
        self::assertSame(['It is 6.0 LU softer than aimed for; lifted that far the limiter would have much to do: make the loudest sounds softer first.'], array_column($answer, 'words'));
        foreach ([['target' => -3], ['correlation' => 'x'], ['peaksDb' => '{"c1":"loud"}'], ['peaksDb' => '']] as $nonsense) {
            self::assertSame(422, $ask($nonsense)->getStatusCode());
        }
        self::assertSame(200, $ask(['peaksDb' => 'soup'])->getStatusCode());
    }

    #[TestWith(['mix/gone', 'kept no longer'])]
    #[TestWith(['band/c1/i1/9', 'no longer there'])]
    #[TestWith(['band/c99/i1/1', 'no longer in the beat'])]
    #[TestWith(['band', 'no longer in the beat'])]
    #[TestWith(['../../etc', 'hear must be'])]
    public function testNonsenseIsRefusedWithASentence(string $hear, string $says): void
    {
        foreach ([
            self::ask('POST', '/beats/'.self::$beat.'/loop', ['what' => 's1', 'hear' => $hear]),
            self::ask('GET', '/beats/'.self::$beat.'/measure?what=s1&hear='.rawurlencode($hear)),
            self::ask('GET', '/beats/'.self::$beat.'/piece?what=s1&hear='.rawurlencode($hear)),
        ] as $response) {
            self::assertSame(422, $response->getStatusCode());
            self::assertStringContainsString($says, (string) $response->getContent());
        }
    }

    public function testStrangeNumbersHarmNothing(): void
    {
        $path = '/beats/'.self::$beat.'/loop';
        foreach ([['from' => -5, 'count' => -1], ['from' => 3, 'count' => 1 << 50], ['from' => 1 << 40, 'count' => 2], ['from' => 'x', 'count' => []], ['hear' => ['a']], ['from' => 2]] as $odd) {
            self::assertSame(200, self::ask('POST', $path, ['what' => 's1', ...$odd])->getStatusCode(), json_encode($odd) ?: '');
        }
        foreach (['lines='.str_repeat('c1+', 3000), 'lines[]=c1', 'lines=%00'] as $odd) {
            self::assertContains(self::ask('GET', '/beats/'.self::$beat.'/spectrum?what=s1&'.$odd)->getStatusCode(), [200, 400, 422], $odd);
        }
        foreach ([['type' => 'make-room', 'node' => 'c1', 'for' => 'c9'], ['type' => 'make-room', 'node' => 'c1', 'for' => 'c1'], ['type' => 'move-line', 'node' => 'c1', 'by' => 7], ['type' => 'set-aside', 'node' => 'c1', 'insert' => 'i1', 'what' => 'burn'], ['type' => 'keep-mix', 'id' => 'm2', 'name' => ''], ['type' => 'recall-mix', 'id' => 'm99'], ['type' => 'steer-by-pattern', 'node' => 'c1', 'insert' => 'i99']] as $change) {
            $response = self::ask('POST', '/beats/'.self::$beat.'/changes', $change, ['X-Pestle-Head' => 'newest']);
            self::assertSame(422, $response->getStatusCode(), json_encode($change).' '.$response->getContent());
        }
    }

    private static function page(string $query): string
    {
        return (string) self::ask('GET', '/beats/'.self::$beat.'/mix'.$query, null, ['Accept' => 'text/html'])->getContent();
    }

    /** @return array<array-key, mixed> */
    private static function asked(string $path): array
    {
        $response = self::ask('GET', '/beats/'.self::$beat.'/'.$path);
        self::assertSame(200, $response->getStatusCode(), (string) $response->getContent());

        return (array) json_decode((string) $response->getContent(), true);
    }

    private static function loudest(string $sound): float
    {
        return Rendered::unpack($sound)->peak();
    }
}
