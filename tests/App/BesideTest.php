<?php

namespace Pestle\Tests\App;

use Pestle\App\Beside\Beside;
use Pestle\App\Storage\Beats;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Tests\Core\Sounds;

/** What stands beside is told, and what a part plays for it. */
final class BesideTest extends AppCase
{
    private static int $beat;

    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        self::ask('POST', '/beats');
        self::$beat = self::service(Beats::class)->all()[0]->id;
        $sample = self::sample('Hit', Sounds::hit(3, 9000));
        self::made(self::$beat, ['type' => 'fill-pad', 'pad' => 'a0', 'sample' => $sample->hash, 'name' => $sample->name, 'role' => 'kick', 'start' => 0, 'end' => 9000]);
        self::made(self::$beat, ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 110], [960, 'a0', 90]]]);
        self::made(self::$beat, ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Jar', 'sample' => $sample->hash, 'start' => 0, 'end' => 9000, 'rootCents' => 6000, 'section' => 's1']);
        self::made(self::$beat, ['type' => 'edit-notes', 'gesture' => 'place', 'pattern' => 'p2', 'notes' => [[0, 48, 100, 480, 100], [960, 50, 90, 240, 100]]]);
    }

    public function testOnlyWhatIsThereIsTold(): void
    {
        $folder = (new DataFolder(self::$data))->beside();
        $beside = new Beside(new DataFolder(self::$data));
        self::assertSame("$folder/clock.sock", $beside->freePlace('clock'));
        $clock = stream_socket_server("unix://$folder/clock.sock");
        self::assertNotFalse($clock);
        // One that was killed leaves its socket behind.
        fclose(stream_socket_server("unix://$folder/module.sock") ?: self::fail('No socket.'));
        touch("$folder/module.sock");
        self::assertSame(['devices' => ['clock']], self::json(self::ask('GET', '/beside')));
        self::assertFileDoesNotExist("$folder/module.sock");
        self::assertSame("$folder/clock-2.sock", $beside->freePlace('clock'));
        fclose($clock);
        unlink("$folder/clock.sock");
    }

    public function testWhatAPartPlaysIsTold(): void
    {
        $page = self::page();
        self::assertIsArray($page['outside']);
        self::assertSame([['entry' => 'e1', 'part' => 'part-2', 'name' => 'Jar in Section 1']], $page['outside']);
        $played = self::json(self::ask('GET', '/beats/'.self::$beat.'/outside?part=part-2&entry=e1'));
        self::assertEquals([[0, 48, 100, 0.333333, 0, 480], [0.666667, 50, 90, 0.166667, 960, 240]], $played['notes']);
        $refused = self::ask('GET', '/beats/'.self::$beat.'/outside?part=part-1&entry=e1');
        self::assertSame(422, $refused->getStatusCode());
        self::assertStringContainsString('is a kit', self::text(self::json($refused)['error']));
    }

    public function testWhatABoxAnsweredTakesThePartsPlaceAndItsNoiseIsGated(): void
    {
        $silence = array_fill(0, 30_000, 0.001);
        $sound = Sounds::hit(5, 60_000);
        $recording = self::sample('Jar by a box', new StereoBlock([...$silence, ...$sound->left], [...$silence, ...$sound->right]));
        $answer = self::json(self::ask('GET', '/samples/'.$recording->hash.'/answered?sent=29000'));
        self::assertIsInt($answer['late']);
        self::assertEqualsWithDelta(1000, $answer['late'], 20);
        self::assertEqualsWithDelta(-60.0, $answer['noiseDb'], 0.2);
        $none = self::ask('GET', '/samples/'.$recording->hash.'/answered?sent=900000');
        self::assertSame(422, $none->getStatusCode());
        self::assertStringContainsString('led to the input', self::text(self::json($none)['error']));

        self::made(self::$beat, ['type' => 'fix-part', 'entry' => 'e1', 'part' => 'part-2', 'at' => 0, 'sounds' => [['channel' => 'c2', 'sample' => $recording->hash, 'rate' => 44100, 'from' => 30_000, 'frames' => 90_000]]]);
        $beat = self::service(Beats::class)->content(self::service(Beats::class)->find(self::$beat) ?? self::fail('The beat is gone.'));
        $clip = $beat->clips[array_key_last($beat->clips)];
        self::assertSame([0, 30_000, 90_000, ['part-2']], [$clip->at, $clip->from, $clip->to, $beat->entry('e1')->fixed]);
        self::assertSame([], self::page()['outside']);
        $wrong = self::ask('POST', '/beats/'.self::$beat.'/changes', ['type' => 'fix-part', 'entry' => 'e1', 'part' => 'part-2', 'at' => 0, 'sounds' => [['channel' => 'c2', 'sample' => $recording->hash, 'rate' => 44100, 'from' => 500, 'frames' => 500]]], ['X-Pestle-Head' => '99']);
        self::assertSame(422, $wrong->getStatusCode());

        self::made(self::$beat, ['type' => 'gate-noise', 'node' => 'c2', 'noiseDb' => $answer['noiseDb']]);
        $gate = self::service(Beats::class)->content(self::service(Beats::class)->find(self::$beat) ?? self::fail('The beat is gone.'))->channel('c2')->inserts[0];
        self::assertSame([-55.0, 90.0], [$gate->settings()['thresholdDb'], $gate->settings()['rangeDb']]);
        self::made(self::$beat, ['type' => 'play-again', 'entry' => 'e1', 'part' => 'part-2']);
    }

    public function testAtAnotherTempoItIsHeardAsIfThatWereTheBeats(): void
    {
        $piece = static fn (string $query): array => self::sound(self::ask('GET', '/beats/'.self::$beat.'/piece?what=s1&count=1&'.$query))[0];
        $own = $piece('from=0');
        $half = $piece('from=0&tempo=45');
        self::assertIsInt($own['music']);
        self::assertIsInt($own['ticks']);
        self::assertSame(2 * $own['music'], $half['music']);
        // A place in ticks lies in the segment it lies in, on and on over the passes.
        $tick = (int) (1.5 * $own['ticks']);
        $there = $piece('tick='.$tick);
        self::assertIsInt($there['start']);
        self::assertIsInt($there['from']);
        self::assertLessThanOrEqual(1.5 * $own['music'], $there['start']);
        self::assertGreaterThan(1.5 * $own['music'], $there['start'] + 4096);
        self::assertSame($there['start'], $piece('from='.$there['from'])['start']);
        self::assertSame(422, self::ask('GET', '/beats/'.self::$beat.'/piece?what=s1&from=0&count=1&tempo=5000')->getStatusCode());
    }

    /** @return array<mixed> what scripts are told of the page */
    private static function page(): array
    {
        preg_match('/data-page="([^"]*)"/', (string) self::ask('GET', '/beats/'.self::$beat.'/pattern', null, ['Accept' => 'text/html'])->getContent(), $page);
        $said = json_decode(html_entity_decode($page[1] ?? ''), true);
        self::assertIsArray($said);

        return $said;
    }
}
