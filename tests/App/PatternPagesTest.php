<?php

namespace Pestle\Tests\App;

use Pestle\App\Shelf\GrooveShelf;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Synth\OldPiano;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;

/** What Pattern takes from recordings and files, over HTTP: grooves, notes, hits, MIDI. */
final class PatternPagesTest extends AppCase
{
    /** A loop whose sixteenths were played late by so many milliseconds, each differently. */
    public function testAGrooveOfALoopPutsStraightHitsWhereTheLoopsWere(): void
    {
        $step = 60 / 92 / 4;
        $late = static fn (int $i): float => 0 === $i % 2 ? 0.002 * sin($i) : 0.018 + 0.006 * cos(3 * $i);
        $places = array_map(static fn (int $i): float => 0.0 + $i * $step + (0 === $i ? 0.0 : $late($i)), [...range(0, 31, 2), 3, 7, 11, 15, 21, 27, 31]);
        sort($places);
        $sample = self::sample('Swung break', self::drums($places, 32 * $step));
        // Kick and snare by turns on eighths can be counted in eighths.
        $bpm = $sample->bpm() ?? 0.0;
        self::assertEqualsWithDelta(92.0, $bpm > 138.0 ? $bpm / 2.0 : $bpm, 0.3);
        self::assertSame(200, self::ask('POST', "/library/$sample->hash", ['downbeat' => 0.0])->getStatusCode());
        self::ask('POST', "/library/$sample->hash", ['bpm' => 92.0]);
        $beat = self::beat();
        $answer = self::json(self::ask('GET', "/beats/$beat/groove/$sample->hash"));
        self::assertSame(8 * 960, $answer['ticks']);
        self::made($beat, ['type' => 'set-tempo', 'bpm' => 92]);
        self::made($beat, ['type' => 'add-groove', 'id' => 'g1', 'name' => 'Break', 'grid' => 240, 'ticks' => $answer['ticks'], 'played' => $answer['played'], 'onto' => ['p1']]);
        $content = self::content($beat);
        $feeling = $content->feeling($content->pattern('p1')->feel);
        foreach ($places as $place) {
            $slot = (int) round($place / $step);
            $heard = $feeling->played(new Hit(240 * $slot, 'a0', 90));
            self::assertEqualsWithDelta($place, $content->tempo->seconds($heard->tick + $heard->fine / Hit::FINE), 0.003, 'sixteenth '.$slot);
        }
        // Kept for any beat, once, under its name; and taken off again.
        self::assertSame('Break', self::json(self::ask('POST', "/beats/$beat/grooves/g1/keep", []))['name'] ?? '');
        self::ask('POST', "/beats/$beat/grooves/g1/keep", []);
        self::assertSame(['Break'], array_map(static fn ($g): string => $g->name, self::service(GrooveShelf::class)->all()));
        $other = self::beat();
        self::assertStringContainsString('<option value="{&quot;type&quot;:&quot;add-groove&quot;', (string) self::ask('GET', "/beats/$other/pattern?feel=groove", null, ['Accept' => 'text/html'])->getContent());
        self::ask('POST', '/grooves/take', ['name' => 'Break']);
        self::assertSame([], self::service(GrooveShelf::class)->all());
        self::assertSame(422, self::ask('POST', "/beats/$beat/grooves/g9/keep", [])->getStatusCode());
        $tone = Sounds::sine(220.0, 30000);
        $none = self::sample('Tone', new StereoBlock($tone, $tone));
        self::assertStringContainsString('Tone has no beat grid', (string) self::ask('GET', "/beats/$beat/groove/$none->hash")->getContent());
        self::assertStringContainsString('is not sliced', (string) self::ask('GET', "/beats/$beat/groove/$sample->hash?slices=1")->getContent());
        self::made($beat, ['type' => 'set-slices', 'sample' => $sample->hash, 'markers' => array_map(static fn (float $p): int => (int) ($p * 44100), $places)]);
        self::assertCount(\count($places), (array) self::json(self::ask('GET', "/beats/$beat/groove/$sample->hash?slices=1"))['played']);
    }

    public function testADrumLoopBecomesHitsOnAKitAndAPianoLoopNotes(): void
    {
        $beat = self::beat();
        $drums = self::sample('Break', self::drums(array_map(static fn (int $i): float => 0.5 * $i, range(0, 7)), 4.0));
        $ask = static fn (string $hash, array $more): \Symfony\Component\HttpFoundation\Response => self::ask('GET', "/beats/$beat/phrase/$hash?".http_build_query($more + ['part' => 'part-1', 'section' => 's1', 'voices' => 0, 'sure' => 20, 'keep' => 'all', 'low' => 0, 'high' => 127, 'grid' => 240, 'octaves' => 0]));
        $change = self::json($ask($drums->hash, []))['change'] ?? null;
        self::assertIsArray($change);
        /** @var array<string, mixed> $change */
        self::made($beat, $change);
        $content = self::content($beat);
        $hits = $content->pattern($content->section('s1')->patterns['part-1'])->hits;
        self::assertSame(['a0', 'a1', 'a0', 'a1', 'a0', 'a1', 'a0', 'a1'], array_column($hits, 'pad'));
        foreach ($hits as $i => $hit) {
            self::assertEqualsWithDelta(960 * $i, $hit->tick + $hit->fine / Hit::FINE, 8);
        }
        self::made($beat, ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Jar', 'sample' => $drums->hash, 'start' => 0, 'end' => 900, 'rootCents' => 6000, 'section' => 's1']);
        $piano = self::sample('Phrase', (new OldPiano(44100))->recording([[50, 0.0, 0.9, 90], [57, 0.0, 0.9, 80], [48, 1.0, 0.9, 90], [55, 1.0, 0.9, 80]], 2.4));
        self::assertSame(202, $ask($piano->hash, ['part' => 'part-2'])->getStatusCode(), 'a worker looks for them');
        self::work();
        $answer = self::json($ask($piano->hash, ['part' => 'part-2', 'keep' => 'lowest']));
        self::assertSame(2, $answer['kept']);
        self::assertIsArray($answer['notes']);
        // Of what was played all is heard; a strong octave may come with it.
        $pitches = array_column($answer['notes'], 2);
        foreach ([48, 50, 55, 57] as $pitch) {
            self::assertContains($pitch, $pitches);
        }
        self::assertLessThanOrEqual(5, \count($answer['notes']));
        self::assertIsArray($answer['change']);
        self::assertSame(422, $ask($piano->hash, ['part' => 'part-2', 'keep' => 'some'])->getStatusCode());
        self::assertSame(422, $ask($piano->hash, ['part' => 'part-9'])->getStatusCode());
    }

    private static function beat(): int
    {
        return self::service(Beats::class)->add(RandomBeats::changed(Beat::empty('Felt'), [
            ['type' => 'set-tempo', 'bpm' => 120],
            ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => str_repeat('a', 64), 'name' => 'Low', 'role' => 'kick', 'start' => 0, 'end' => 900],
            ['type' => 'fill-pad', 'pad' => 'a1', 'sample' => str_repeat('a', 64), 'name' => 'High', 'role' => 'snare', 'start' => 0, 'end' => 900],
        ]))->id ?? 0;
    }

    private static function content(int $beat): Beat
    {
        return self::service(Beats::class)->content(self::service(Beats::class)->find($beat) ?? self::fail());
    }

    /** A picture of each pattern lies in the page once, however often the song plays it and whatever it holds. */
    public function testALongSongOfALargePatternIsASmallPage(): void
    {
        $hits = array_map(static fn (int $i): array => [$i % 7680, 'a'.$i % 3, 1 + $i % 127], range(0, 14_999));
        $beat = RandomBeats::changed(self::content(self::beat()), [
            ...array_map(static fn (int $i): array => ['type' => 'fill-pad', 'pad' => 'a'.$i, 'sample' => str_repeat('ab', 32), 'name' => 'Knock', 'role' => 'kick', 'start' => 0, 'end' => 900], [0, 1, 2]),
            ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => $hits],
            ['type' => 'set-song', 'sections' => array_fill(0, 200, 's1')],
        ]);
        $id = self::service(Beats::class)->add($beat)->id;
        $page = (string) self::ask('GET', "/beats/$id/arrange", null, ['Accept' => 'text/html'])->getContent();
        self::assertSame(1, substr_count($page, 'id="drawn-p1"'));
        self::assertSame(200, preg_match_all('~<use href="#drawn-p1" transform~', $page));
        self::assertLessThan(600_000, \strlen($page));
    }
}
