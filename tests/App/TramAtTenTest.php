<?php

namespace Pestle\Tests\App;

use Pestle\App\Demo\StallKits;
use Pestle\App\Shelf\KitShelf;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Beat\KitSheet;
use Pestle\Tests\Core\Sounds;

/** The last tram's beat, and the kits of all stalls: on the shelf, out of it and back, and played. */
final class TramAtTenTest extends DemoBeatCase
{
    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        self::$folder = Sounds::folder();
        self::console(['pestle:demo'], 0);
        self::assertSame(['Kettle Steam', 'Tram at Ten', 'Rain on Tin'], array_map(static fn ($b): string => $b->name, array_reverse(self::service(Beats::class)->all())));
        self::console(['pestle:render', 'Tram at Ten', '--out='.self::$folder.'/main.wav', '--section=Rolling', '--loop'], 0);
        self::$sound = Sounds::whole(SoundFile::open(self::$folder.'/main.wav'));
    }

    public function testTheKitsOfTheStallsAreAsLoudAsEachOther(): void
    {
        self::assertMadeSounds('Tram at Ten');
        $kits = self::service(KitShelf::class)->found('', 20)[0];
        self::assertCount(6, $kits);
        $loudness = [];
        foreach ($kits as ['kit' => $kit, 'sheet' => $sheet]) {
            self::assertNotNull($sheet);
            self::assertGreaterThanOrEqual(10, \count($sheet->pads));
            self::assertNotSame([], $kit->tags);
            foreach ([36, 37] as $note) {
                self::console(['pestle:kit:play', $kit->name, '--note='.$note, '--velocity=127', '--out='.self::$folder.'/one.wav'], 0);
                $loudness[$note][] = StallKits::loudness(Sounds::whole(SoundFile::open(self::$folder.'/one.wav')), 44100);
            }
        }
        foreach ($loudness as $of) {
            self::assertLessThan(4.5, max($of) - min($of));
        }
    }

    /** Folders beside one another, either slash, any case, includes; and nothing from outside the archive. */
    public function testAKitOfOthersMakingComesInFromItsFolders(): void
    {
        $path = self::$folder.'/bank.zip';
        copy(self::$folder.'/main.wav', self::$folder.'/hit.wav');
        $zip = new \ZipArchive();
        $zip->open($path, \ZipArchive::CREATE);
        $zip->addFromString('Bank/Programs/Big kit.sfz', "#include \"inc\\map.inc\"\n<region> key=40 sample=..\\..\\..\\..\\etc\\passwd\n");
        $zip->addFromString('Bank/Programs/inc/map.inc', "<control> default_path=..\\Samples\\\n<region> key=36 sample=Hit One.wav offset=100 end=4099\n<region> key=38 sample=hit one.WAV tune=5\n");
        $zip->addFile(self::$folder.'/hit.wav', 'Bank/samples/hit one.wav');
        $zip->addFromString('../../escaped.sfz', '<region> sample=x.wav');
        $zip->close();
        $said = self::console(['pestle:kit:in', $path], 0);
        self::assertStringContainsString('Big kit: a kit of 2 pads with 2 sounds from 1 samples', $said);
        self::assertMatchesRegularExpression('~not carried: \S*etc/passwd: the sample is not there~', $said);
        self::assertFileDoesNotExist(\dirname(self::$folder, 2).'/escaped.sfz');
        $kit = self::service(KitShelf::class)->named('Big kit') ?? throw new \LogicException();
        $sheet = KitShelf::sheet(self::service(KitShelf::class)->version($kit->id, 1) ?? throw new \LogicException());
        self::assertSame([[100, 4100, 0], [0, $sheet->pads['a2']->main()->end, 5]], array_map(static fn ($p): array => [$p->main()->start, $p->main()->end, $p->main()->tuneCents], array_values($sheet->pads)));
        self::assertGreaterThan(44100, $sheet->pads['a2']->main()->end);
    }

    public function testAKitGoesOutAsSfzAndComesBack(): void
    {
        $zip = self::$folder.'/Rain roof.zip';
        self::assertStringEndsWith($zip, self::console(['pestle:kit:out', 'Rain roof', '--out='.$zip], 0));
        $said = self::console(['pestle:kit:in', $zip], 0);
        self::assertStringContainsString('Rain roof: a kit of 10 pads with 11 sounds from', $said);
        self::assertStringContainsString('a1  Gutter snare, snare: 2 sounds, by strength', $said);
        self::assertStringNotContainsString('not carried', $said);
        preg_match('/^(\d+) /', $said, $m);
        $shelf = self::service(KitShelf::class);
        $back = KitShelf::sheet($shelf->version((int) ($m[1] ?? 0), null) ?? throw new \LogicException());
        $there = $shelf->named('Rain roof') ?? throw new \LogicException();
        $own = KitShelf::sheet($shelf->version($there->id, 1) ?? throw new \LogicException());
        $plain = static fn (KitSheet $sheet): array => array_map(static fn ($p): array => [$p->role, $p->choke, $p->mode, $p->answer, array_map(static fn ($l): array => [$l->sample, $l->start, $l->end, $l->low, $l->high], $p->layers), $p->treatment->filter->shape, $p->treatment->pitch->cents], $sheet->pads);
        self::assertEquals($plain($own), $plain($back));
        self::assertStringContainsString('There is no kit named "Nobody" on the shelf', self::console(['pestle:kit:out', 'Nobody', '--out=x.zip'], 1));
        file_put_contents(self::$folder.'/broken.zip', 'PK no');
        self::assertSame('broken.zip is no zip archive that can be read.', self::console(['pestle:kit:in', self::$folder.'/broken.zip'], 1));
        file_put_contents(self::$folder.'/alone.sfz', '<region> sample=gone.wav key=36');
        self::assertStringContainsString('alone.sfz: none of its samples is there; the first is gone.wav.', self::console(['pestle:kit:in', self::$folder.'/alone.sfz'], 1));
    }
}
