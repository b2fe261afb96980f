<?php

namespace Pestle\Tests\Core\Render;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Passage;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Render\PadSounds;
use Pestle\Core\Render\Plan;
use Pestle\Core\Render\Renderer;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Render\SegmentCache;
use Pestle\Core\Render\Voice;
use Pestle\Core\Render\VoicePlanner;
use Pestle\Core\Song\Entry;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** Compiled while it runs, code has to do what it says: see docs/decisions/08-compiled-wrongly.md. */
final class CompiledTest extends TestCase
{
    /** Thousands of voices, each against the plain rules. The compiled planner once forgot the fades of some, in most processes. */
    public function testEveryVoiceKeepsToItsPadAndFades(): void
    {
        foreach (range(1, 8) as $seed) {
            self::assertMatchesRegularExpression('/^0 of [1-9]\d{2,}$/', self::inAProcess("wrong($seed)"));
        }
        self::assertStringStartsWith('0 of ', self::wrong(9), 'and in this one, warm from other tests');
    }

    /** How many voices of random beats are not as they should be, of how many. */
    public static function wrong(int $seed): string
    {
        $chance = new Randomizer(new Xoshiro256StarStar($seed));
        $folder = Sounds::folder();
        $hash = Sounds::put($folder, Sounds::hit(3, 40000));
        $sounds = new PadSounds(new SampleLibrary($folder), Beat::SAMPLE_RATE);
        $wrong = $seen = 0;
        for ($count = $chance->getInt(50, 400); $count > 0; --$count) {
            $beat = self::random($chance, $hash);
            $passage = Passage::of($beat, 'p1', true);
            $frames = $beat->tempo->frames($passage->ticks, Beat::SAMPLE_RATE);
            $planner = new VoicePlanner($beat, $sounds);
            $loops = 1 === $chance->getInt(0, 1);
            $voices = $loops ? Voices::ofAPass($planner->loop($passage, $frames, Timeline::song($beat), []), $frames) : $planner->song([[$passage, 0, $frames, null, Timeline::song($beat)]])->current();
            foreach ($voices as $id => $list) {
                $start = $beat->pad($id)->main()->start;
                foreach ($list as $voice) {
                    ++$seen;
                    $fade = min(Voice::FADE, $start);
                    // At the start of a song it fades in as it begins.
                    $late = $loops ? 0 : max(0, $fade - self::struck($voice, $start));
                    $wrong += (int) ($voice->from !== $start + $late || $voice->fadeIn !== $fade || $voice->fadeOut < 1 || self::until($voice, $id, $voices, $beat, $loops ? $frames : null) !== $voice->length + $late);
                }
            }
        }

        return $wrong.' of '.$seen;
    }

    public function testTheSameSoundComesOutWithoutCompiling(): void
    {
        self::assertSame(self::prints(), self::inAProcess('prints()', '-d opcache.jit=disable'));
    }

    private static function inAProcess(string $call, string $options = ''): string
    {
        $code = \sprintf('require %s; echo %s::%s;', var_export(\dirname(__DIR__, 3).'/vendor/autoload.php', true), self::class, $call);
        exec(escapeshellarg(\PHP_BINARY)." $options -r ".escapeshellarg($code), $said, $status);
        self::assertSame(0, $status, implode("\n", $said));

        return $said[0] ?? '';
    }

    /** What some random beats sound like, as one hash each. */
    public static function prints(): string
    {
        $random = new RandomBeats(Sounds::folder());
        $prints = [];
        foreach ([5, 11, 17] as $seed) {
            $beat = $random->beat($seed);
            $sounds = new PadSounds(new SampleLibrary($random->folder), Beat::SAMPLE_RATE);
            $hash = hash_init('sha256');
            foreach ((new Renderer($sounds, SegmentCache::none()))->stream(Plan::song($beat, [Entry::once('p1')], $sounds)) as $moment) {
                hash_update($hash, $moment->mix->packed());
            }
            $prints[] = hash_final($hash);
        }

        return implode(' ', $prints);
    }

    private static function random(Randomizer $chance, string $hash): Beat
    {
        $changes = [['type' => 'set-tempo', 'bpm' => $chance->getInt(60, 150)]];
        for ($pad = 0; $pad < 3; ++$pad) {
            $start = [0, 50, 551, 2000][$chance->getInt(0, 3)];
            $changes[] = ['type' => 'fill-pad', 'pad' => 'a'.$pad, 'sample' => $hash, 'name' => 'Sound', 'role' => 'kick', 'start' => $start, 'end' => $start + $chance->getInt(300, 22050)];
            $changes[] = ['type' => 'set-pad', 'pad' => 'a'.$pad, 'choke' => $chance->getInt(0, 1), 'mode' => ['one-shot', 'held'][$chance->getInt(0, 1)]];
        }
        $hits = array_map(static fn (): array => [$chance->getInt(0, 7000), 'a'.$chance->getInt(0, 2), $chance->getInt(1, 127), $chance->getInt(20, 900)], range(1, $chance->getInt(1, 8)));

        return RandomBeats::changed(Beat::empty('Random'), [...$changes, ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => $hits]]);
    }

    /** Frame of the strike, also where the voice is at full level only later. */
    private static function struck(Voice $voice, int $start): int
    {
        return $voice->start - ($voice->from - $start);
    }

    /**
     * How long a voice is by the rules: as long as its sound, or as it is held, or until the next strike of its pad
     * or choke group, and a fade.
     *
     * @param array<string, list<Voice>> $all
     * @param int|null                   $round frames after which everything comes again
     */
    private static function until(Voice $voice, string $id, array $all, Beat $beat, ?int $round): int
    {
        $pad = $beat->pad($id);
        $length = $pad->main()->end - $pad->main()->start;
        if (PlayMode::Held === $pad->mode) {
            foreach ($beat->pattern('p1')->hits as $hit) {
                if ($hit->pad === $id && $beat->tempo->frames($hit->tick, Beat::SAMPLE_RATE) === self::struck($voice, $pad->main()->start)) {
                    $length = min($pad->main()->end - $pad->main()->start, max(1, $beat->tempo->frames($hit->length, Beat::SAMPLE_RATE)));
                }
            }
        }
        $cut = null;
        foreach ($all as $other => $list) {
            if ($other !== $id && (0 === $pad->choke || $beat->pad($other)->choke !== $pad->choke)) {
                continue;
            }
            foreach ($list as $next) {
                $struck = self::struck($next, $beat->pad($other)->main()->start);
                foreach (null === $round ? [$struck] : [$struck, $struck + $round] as $start) {
                    if ($start > self::struck($voice, $pad->main()->start) && (null === $cut || $start < $cut)) {
                        $cut = $start;
                    }
                }
            }
        }

        $struck = self::struck($voice, $pad->main()->start);

        return null === $cut || $struck + $length <= $cut ? $length : min($length, $cut - $struck + min($length - ($cut - $struck), Voice::CHOKE_FADE));
    }
}
