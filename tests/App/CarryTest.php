<?php

namespace Pestle\Tests\App;

use Pestle\App\Carry\Packing;
use Pestle\App\Carry\Unpacked;
use Pestle\App\Carry\Unpacking;
use Pestle\App\Entity\Sample;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Shelf\GrooveShelf;
use Pestle\App\Shelf\KitShelf;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Beat\BeatCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Exchange\Carried\Damaged;
use Pestle\Core\Exchange\DeliveryOrder;
use Pestle\Core\Exchange\DeliveryWriter;
use Pestle\Core\Pattern\Groove;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;

/** Beats and libraries go from one data folder to another as one file: to the bit, not twice, and nothing damaged comes in. */
final class CarryTest extends AppCase
{
    private static string $archive = '';
    private static StereoBlock $heard;

    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        self::ask('POST', '/beats');
        $beat = self::service(Beats::class)->all()[0]->id;
        $knock = self::sample('Knock', Sounds::hit(5, 20000));
        // One that is not played as it came.
        $folder = Sounds::folder();
        self::sample('Loop', self::drums([0.0, 0.5, 1.0, 1.5], 2.0));
        exec('ffmpeg -v error -y -i '.escapeshellarg(self::service(SampleStore::class)->library()->path(self::sample('Hum', Sounds::hit(9, 60000))->hash)).' '.escapeshellarg($folder.'/Hum tape.mp3'));
        $hum = self::service(SampleStore::class)->add($folder.'/Hum tape.mp3', 'Hum tape.mp3');
        foreach (['a0' => $knock, 'a1' => $hum] as $pad => $sample) {
            self::made($beat, ['type' => 'fill-pad', 'pad' => $pad, 'sample' => $sample->hash, 'name' => $sample->name, 'role' => 'kick', 'start' => 0, 'end' => min($sample->frames, 19000)]);
        }
        self::made($beat, ['type' => 'rename-beat', 'name' => '808 boat']);
        self::made($beat, ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 110], [960, 'a1', 90], [1920, 'a0', 70]]]);
        self::made($beat, ['type' => 'set-edits', 'sample' => $hum->hash, 'frames' => $hum->frames, 'edits' => [['kind' => 'pitch', 'cents' => 300, 'material' => 'hits']]]);
        self::made($beat, ['type' => 'keep-mix', 'id' => 'm1', 'name' => 'Dry']);
        self::ask('POST', "/library/{$knock->hash}", ['tags' => 'wood, dry', 'favourite' => true, 'note' => 41.5]);
        self::ask('POST', "/beats/$beat/shelf", ['name' => 'Boat kit', 'part' => 'part-1']);
        self::service(GrooveShelf::class)->keep(new Groove('g1', 'Swell', 240, [[3.0, 1.0], null, [-8.5, 0.7]]));
        self::work();
        $record = self::service(Beats::class)->find($beat) ?? self::fail('gone');
        self::$heard = self::rendered($beat);
        self::$archive = Sounds::folder().'/808 boat.beat.zip';
        self::service(Packing::class)->beat($record, $record->head, self::$archive, static fn (float $share) => null);
        self::service(Packing::class)->library(\dirname(self::$archive).'/All.zip', static fn (float $share) => null);
    }

    /** In another data folder it sounds as it did, with what was heard and said; brought in again, nothing is there twice. */
    public function testABeatIsCarriedToAnotherFolder(): void
    {
        self::elsewhere();
        $came = self::brought(self::$archive);
        self::assertSame('808 boat came in with 2 samples; 0 were there already.', $came->sentence());
        [$record] = $came->beats[0];
        $heard = self::rendered($record->id);
        self::assertSame([self::$heard->left, self::$heard->right], [$heard->left, $heard->right]);
        $samples = self::service(SampleStore::class)->all();
        $named = array_combine(array_map(static fn (Sample $s): string => $s->name, $samples), $samples);
        self::assertSame(['wood', 'dry'], $named['Knock']->tags);
        self::assertTrue($named['Knock']->favourite);
        self::assertSame(41.5, $named['Knock']->pitch());
        self::assertTrue($named['Knock']->isHeard());
        self::assertSame('decoded from MP3', $named['Hum tape']->note);
        self::assertSame(['m1'], array_keys(self::service(Beats::class)->content($record)->snapshots));
        // Its part is as the kit on the shelf, which came with it under a number of this folder.
        $kit = self::service(KitShelf::class)->named('Boat kit') ?? self::fail('the kit did not come');
        $part = self::service(Beats::class)->content($record)->part('part-1');
        self::assertSame(KitShelf::mark(self::service(KitShelf::class)->version($kit->id, null) ?? self::fail('no version')), $part->shelf);
        $again = self::brought(self::$archive);
        self::assertSame('No beat came in with 0 samples; 2 were there already, and so was the beat.', $again->sentence());
        self::assertCount(1, self::service(Beats::class)->all());
        self::assertCount(2, self::service(SampleStore::class)->all());
        self::assertSame(1, self::service(KitShelf::class)->found('', 10)[1]);
    }

    public function testTheWholeLibraryIsCarried(): void
    {
        self::elsewhere();
        $came = self::brought(\dirname(self::$archive).'/All.zip');
        self::assertSame('808 boat came in with 4 samples; 0 were there already.', $came->sentence());
        self::assertSame(['Swell'], array_column(self::service(GrooveShelf::class)->all(), 'name'));
        self::assertEquals([[3.0, 1.0], null, [-8.5, 0.7]], self::service(GrooveShelf::class)->all()[0]->slots);
        self::assertNotNull(self::service(KitShelf::class)->named('Boat kit'));
    }

    /** The whole library through the page: packed as it is when it is asked for, and the one of before makes room. */
    public function testThePageCarriesTheLibraryOut(): void
    {
        self::assertStringContainsString('data-library', (string) self::ask('GET', '/')->getContent());
        foreach (['1700000000', '1700000060'] as $asked) {
            self::assertSame(202, self::ask('GET', "/library-$asked.zip")->getStatusCode());
            self::assertStringContainsString('Packing the library', (string) self::ask('GET', '/jobs')->getContent());
            self::work();
            $answer = self::ask('GET', "/library-$asked.zip");
            self::assertStringContainsString('filename=library.zip', (string) $answer->headers->get('Content-Disposition'));
        }
        self::assertSame([self::$data.'/edited/library-1700000060.zip'], glob(self::$data.'/edited/library-*'));
        $zip = new \ZipArchive();
        self::assertTrue($zip->open(self::$data.'/edited/library-1700000060.zip', \ZipArchive::RDONLY));
        self::assertGreaterThan(3, $zip->numFiles);
        self::assertSame(404, self::ask('GET', '/library-now.zip')->getStatusCode());
    }

    /** Through the pages: packed by a worker, sent, unpacked by one; what is no archive is told. */
    public function testPagesCarryBeats(): void
    {
        self::elsewhere();
        $bring = static function (string $name, string $bytes): array {
            $id = self::text(self::json(self::ask('POST', '/uploads', ['name' => $name, 'size' => \strlen($bytes)]))['id'] ?? null);
            self::assertSame(200, self::ask('PUT', "/uploads/$id?at=0&for=beats", $bytes)->getStatusCode());
            self::assertSame(201, self::ask('POST', '/carried', ['upload' => $id])->getStatusCode());
            self::work();

            return self::json(self::ask('GET', "/uploads/$id"));
        };
        $state = $bring('808 boat.beat.zip', (string) file_get_contents(self::$archive));
        self::assertSame(['done', '808 boat came in with 2 samples; 0 were there already.'], [$state['state'], $state['message']]);
        $state = $bring('Notes.zip', 'no zip at all');
        self::assertSame(['failed', 'Notes.zip is no zip archive that can be read. Choose a file that Pestle carried out.'], [$state['state'], $state['message']]);
        $beat = self::service(Beats::class)->all()[0]->id;
        $path = "/beats/$beat/beat.zip";
        self::assertSame(202, self::ask('GET', $path)->getStatusCode());
        self::work();
        $answer = self::ask('GET', $path);
        self::assertStringContainsString("utf-8''808%20boat.beat.zip", (string) $answer->headers->get('Content-Disposition'));
        self::assertSame([], glob(self::$data.'/incoming/*'), 'nothing is left over');
        self::assertSame(422, self::ask('POST', '/carried', ['upload' => 'nothing'])->getStatusCode());
        // Packed again after a change, the older archive goes; with a sample gone from the disk nothing is left half written.
        self::made($beat, ['type' => 'set-tempo', 'bpm' => 99]);
        self::ask('GET', $path);
        self::work();
        self::assertCount(1, glob(self::$data.'/edited/beat-*') ?: []);
        self::made($beat, ['type' => 'set-tempo', 'bpm' => 98]);
        $file = self::service(SampleStore::class)->library()->path(self::service(SampleStore::class)->all()[0]->hash);
        rename($file, $file.'.away');
        self::ask('GET', $path);
        self::work();
        self::assertSame([], glob(self::$data.'/edited/*.part'));
        self::assertStringContainsString('its file is gone from the disk', self::text(self::json(self::ask('GET', $path))['error']));
        rename($file.'.away', $file);
    }

    /** @return iterable<string, array{array<string, string|null>, array<array-key, mixed>, string}> entries that are put in place of others or taken out, what differs in the manifest, and what is said */
    public static function damage(): iterable
    {
        yield 'a sample is another' => [['samples/Knock.wav' => str_repeat('x', 500)], [], 'samples/Knock.wav is damaged'];
        yield 'a sample is gone' => [['samples/Knock.wav' => null], [], 'samples/Knock.wav is missing'];
        yield 'a beat is another' => [['beats/808 boat.json' => '{}'], [], 'beats/808 boat.json is damaged'];
        yield 'no manifest' => [['manifest.json' => null], [], 'there is no manifest.json in it'];
        yield 'of something else' => [['manifest.json' => '{"name": "x"}'], [], 'It is not one of Pestle'];
        yield 'no JSON' => [['manifest.json' => '{'], [], 'It cannot be read as JSON'];
        yield 'of a later version' => [[], ['pestle' => 2], 'version 2, and this Pestle reads version 1'];
        yield 'a length that is none' => [[], ['samples' => [['file' => ['bytes' => -5]]]], 'samples, number 1: bytes must be'];
        yield 'a length that lies' => [[], ['samples' => [['file' => ['bytes' => 44]]]], 'is damaged'];
        yield 'larger than the disk' => [[], ['beats' => array_fill(1, 9000, ['entry' => 'x', 'bytes' => 4_000_000_000, 'sha256' => str_repeat('a', 64)])], 'GB are free'];
        yield 'a kit without order' => [[], ['kits' => [['sheet' => 'none']]], 'kits, number 1'];
    }

    /**
     * @param array<string, string|null> $entries
     * @param array<array-key, mixed>    $manifest
     */
    #[DataProvider('damage')]
    public function testWhatIsDamagedIsToldAndHarmsNothing(array $entries, array $manifest, string $said): void
    {
        self::elsewhere();
        $path = self::harmed($entries, $manifest);
        try {
            self::brought($path);
            self::fail('It came in.');
        } catch (Damaged $e) {
            self::assertStringContainsString($said, $e->getMessage());
            self::assertStringStartsWith('harmed.zip', $e->getMessage());
        }
        self::assertSame([], self::service(Beats::class)->all());
        self::assertSame([], self::service(SampleStore::class)->all());
        self::assertSame([], glob(self::$data.'/incoming/*'));
    }

    /** A byte anywhere: it is told, or it changes nothing that counts. */
    public function testAnyByteMayBeWrong(): void
    {
        $bytes = (string) file_get_contents(self::$archive);
        $told = 0;
        self::elsewhere();
        mt_srand(7);
        for ($i = 0; $i < 40; ++$i) {
            $at = mt_rand(0, \strlen($bytes) - 1);
            file_put_contents($path = self::$data.'/one.zip', substr_replace($bytes, \chr(\ord($bytes[$at]) ^ 1 << mt_rand(0, 7)), $at, 1));
            try {
                [$record] = self::brought($path)->beats[0];
                self::assertSame(self::$heard->left, self::rendered($record->id)->left, "byte $at");
            } catch (Damaged) {
                ++$told;
            }
        }
        self::assertGreaterThan(0, $told);
    }

    /** What was heard is believed only where it can be; elsewhere it is listened to anew. */
    public function testFactsThatCannotBeAreHeardAnew(): void
    {
        self::elsewhere();
        $odd = ['hits' => 'none', 'beats' => [['x']]];
        $path = self::harmed([], ['samples' => [['facts' => $odd], ['facts' => $odd]]]);
        self::brought($path);
        self::work();
        foreach (self::service(SampleStore::class)->all() as $sample) {
            self::assertTrue($sample->isHeard());
            self::assertNotSame([], $sample->hits());
        }
        self::assertSame(200, self::ask('GET', '/beats/'.self::service(Beats::class)->all()[0]->id.'/gather', null, ['Accept' => 'text/html'])->getStatusCode());
    }

    private static function elsewhere(): void
    {
        self::tearDownAfterClass();
        parent::setUpBeforeClass();
    }

    /**
     * @param array<string, string|null> $entries
     * @param array<array-key, mixed>    $manifest
     *
     * @return string path of an archive to which this was done
     */
    private static function harmed(array $entries, array $manifest): string
    {
        copy(self::$archive, $path = Sounds::folder().'/harmed.zip');
        $zip = new \ZipArchive();
        $zip->open($path);
        foreach ($entries as $entry => $bytes) {
            null === $bytes ? $zip->deleteName($entry) : $zip->addFromString($entry, $bytes);
        }
        if ([] !== $manifest) {
            $zip->addFromString('manifest.json', json_encode(array_replace_recursive((array) json_decode((string) $zip->getFromName('manifest.json'), true), $manifest), \JSON_THROW_ON_ERROR));
        }
        $zip->close();

        return $path;
    }

    private static function brought(string $path): Unpacked
    {
        return self::service(Unpacking::class)->in($path, basename($path), static fn (float $share) => null);
    }

    private static function rendered(int $beat): StereoBlock
    {
        $record = self::service(Beats::class)->find($beat) ?? self::fail('gone');
        $out = Sounds::folder();
        (new DeliveryWriter(self::service(SampleStore::class)->library()))->write(BeatCodec::decode(self::service(Beats::class)->json($record)), DeliveryOrder::from(new Fields(['what' => 'p1', 'format' => '32f', 'stems' => 'none'])), $out.'/mix.wav', $out, static fn (float $share): bool => true);

        return Sounds::whole(SoundFile::open($out.'/mix.wav'));
    }
}
