<?php

namespace Pestle\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Entity\ShelvedKit;
use Pestle\App\Entity\Upload;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Queue\Work;
use Pestle\App\Shelf\BringKit;
use Pestle\App\Shelf\BringKitHandler;
use Pestle\App\Shelf\KitFiles;
use Pestle\App\Shelf\KitShelf;
use Pestle\App\Shelf\Reach;
use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Exchange\Sfz\Unreadable;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\HttpFoundation\BinaryFileResponse;

/** Kits that come in reach only what came with them, are brought in whole or not at all, and harm no page. */
final class KitFilesTest extends AppCase
{
    public function testAKitNamesOnlyWhatCameWithIt(): void
    {
        $outside = Sounds::folder();
        self::tone($outside.'/private.wav', 500);
        file_put_contents($outside.'/env.txt', '<region> sample=own.wav key=40 secret=1234');
        $way = str_repeat('../', 20).ltrim($outside, '/');
        $own = self::tone(Sounds::folder().'/own.wav', 300);
        $before = \count(self::service(SampleStore::class)->all());
        $state = self::bring(['Evil.sfz' => "<region> key=36 sample=own.wav\n<region> key=37 sample=$way/private.wav\n", 'own.wav' => (string) file_get_contents($own)]);
        self::assertSame('done', $state['state'], self::text($state['message']));
        self::assertStringContainsString('private.wav: the sample is not there, or lies in a folder that did not come with it', self::text($state['message']));
        self::assertCount($before + 1, self::service(SampleStore::class)->all());
        $state = self::bring(['Evil.sfz' => "#include \"$way/env.txt\"\n<region> key=36 sample=own.wav\n", 'own.wav' => (string) file_get_contents($own)]);
        self::assertSame('failed', $state['state']);
        self::assertStringContainsString('env.txt, which is not there', self::text($state['message']));
    }

    public function testFoldersThatAreGivenAreWithinReachAndNoLinksLeadOut(): void
    {
        $root = Sounds::folder();
        mkdir($root.'/kits');
        mkdir($root.'/samples');
        mkdir($root.'/samples-other');
        self::tone($root.'/samples/Knock.wav', 400);
        self::tone($root.'/samples-other/no.wav', 400);
        symlink($root.'/samples-other/no.wav', $root.'/kits/linked.wav');
        file_put_contents($root.'/kits/Stall.sfz', "<region> key=36 sample=..\\Samples\\knock.WAV\n<region> key=37 sample=linked.wav\n");
        $files = self::service(KitFiles::class);
        try {
            $files->in($root.'/kits/Stall.sfz', 'Stall.sfz');
            self::fail('Nothing of it lies beside it.');
        } catch (Unreadable $e) {
            self::assertStringContainsString('none of its samples is there', $e->getMessage());
        }
        [[, $sheet, $told]] = $files->in($root.'/kits/Stall.sfz', 'Stall.sfz', '', null, [$root.'/samples']);
        self::assertSame(['a0'], array_keys($sheet->pads));
        self::assertStringStartsWith('linked.wav: ', $told[0]);
        $reach = new Reach($root.'/kits', $root.'/kits', $root.'/samples');
        self::assertNull($reach->find('../samples-other/no.wav'));
        self::assertNull($reach->find('/etc/passwd'));
        self::assertSame(realpath($root.'/samples/Knock.wav'), $reach->find('sub/../../SAMPLES/knock.wav'));
    }

    /** A kit goes out as a zip that a worker packs; what cannot be packed is told, and tried again when it is asked for again. */
    public function testAKitIsPackedBesideThePage(): void
    {
        self::bring(['Takeaway.sfz' => '<region> key=36 sample=take.wav', 'take.wav' => (string) file_get_contents(self::tone(Sounds::folder().'/take.wav', 900))]);
        $kit = self::service(KitShelf::class)->named('Takeaway') ?? self::fail('not on the shelf');
        $path = "/kits/{$kit->id}.zip";
        $codes = array_map(static fn (int $_): int => self::ask('GET', $path)->getStatusCode(), [1, 2]);
        self::assertSame([202, 202], $codes);
        self::assertSame(['Packing Takeaway'], array_column(self::service(Work::class)->all(), 'title'), 'asked for twice it is packed once');
        self::work();
        $answer = self::ask('GET', $path);
        self::assertSame(200, $answer->getStatusCode());
        self::assertStringContainsString("utf-8''Takeaway.zip", (string) $answer->headers->get('Content-Disposition'));
        self::assertInstanceOf(BinaryFileResponse::class, $answer);
        $zip = new \ZipArchive();
        self::assertTrue($zip->open($answer->getFile()->getPathname()));
        self::assertSame(['samples/take.wav', 'Takeaway.sfz'], [$zip->getNameIndex(0), $zip->getNameIndex(1)]);
        // Its sample is gone from the disk, and the zip was cleared away.
        self::ask('POST', '/space/edited');
        $sample = array_values(array_filter(self::service(SampleStore::class)->all(), static fn ($s): bool => 'take' === $s->name))[0];
        $file = self::service(SampleStore::class)->library()->path($sample->hash);
        rename($file, $file.'.away');
        self::assertSame(202, self::ask('GET', $path)->getStatusCode());
        self::work();
        self::assertStringContainsString('take: the sample is gone', self::text(self::json($failed = self::ask('GET', $path))['error']));
        self::assertSame(422, $failed->getStatusCode());
        rename($file.'.away', $file);
        self::assertSame(202, self::ask('GET', $path)->getStatusCode());
        self::work();
        self::assertSame(200, self::ask('GET', $path)->getStatusCode());
    }

    public function testAnImportWhoseWorkerDiedGoesOnFromWhatCameIn(): void
    {
        $own = (string) file_get_contents(self::tone(Sounds::folder().'/own.wav', 700));
        $files = array_map(static fn (string $name, string $bytes): string => self::kept($name, $bytes), ['Again.sfz', 'own.wav'], ['<region> key=36 sample=own.wav', $own]);
        $id = self::text(self::json(self::ask('POST', '/kits', ['uploads' => $files]))['id'] ?? null);
        // A first try that ended after it had laid the files together.
        $folder = self::$data.'/incoming/kit-'.$id;
        mkdir($folder);
        file_put_contents($folder.'/own.wav', 'half');
        self::service(BringKitHandler::class)(new BringKit($id, $files));
        $state = self::json(self::ask('GET', "/uploads/$id"));
        self::assertSame(['done', 'Again: 1 sounds on the shelf.'], [$state['state'], $state['message']]);
        self::work();
        self::assertSame([], glob(self::$data.'/incoming/*'));
    }

    /** @return iterable<string, array{array<string, string>, string}> */
    public static function harmful(): iterable
    {
        $doubling = "#define \$A0 xxxxxxxxxx\n";
        for ($i = 1; $i <= 16; ++$i) {
            $doubling .= \sprintf("#define \$A%d \$A%d\$A%d\n", $i, $i - 1, $i - 1);
        }
        yield 'definitions that double' => [['a.sfz' => $doubling."<region> key=36 sample=\$A16.wav\n"], 'defines'];
        yield 'a name that stands for much, often' => [['a.sfz' => '#define $A '.str_repeat('x', 900)."\n<region> key=36 sample=a.wav label=".str_repeat('$A', 20000)."\n"], 'too long'];
        yield 'opcodes handed down to many' => [['a.sfz' => '<global> '.implode(' ', array_map(static fn (int $i): string => "x$i=1", range(1, 4000)))."\n".str_repeat("<region> key=36 sample=a.wav\n", 19000)], 'hands down'];
        yield 'a line of many opcodes' => [['a.sfz' => '<region> sample=gone.wav key=36 '.implode(' ', array_map(static fn (int $i): string => "x$i=1", range(1, 40000)))], 'none of its samples'];
        yield 'no name but an ending' => [['  .sfz' => '<region> sample=gone.wav key=36'], 'none of its samples'];
        yield 'an empty one' => [['a.sfz' => '<region>'], 'no region'];
    }

    /** @param array<string, string> $files */
    #[DataProvider('harmful')]
    public function testWhatIsMadeToHarmIsRefusedInWordsAndSoon(array $files, string $words): void
    {
        $memory = memory_get_usage();
        memory_reset_peak_usage();
        $state = self::bring($files);
        self::assertSame('failed', $state['state']);
        self::assertStringContainsString($words, self::text($state['message']));
        self::assertLessThan(200_000_000, memory_get_peak_usage() - $memory);
        self::assertSame([], glob(self::$data.'/incoming/*'));
    }

    public function testAnArchiveOfManyKitsIsRefusedBeforeItIsUnpacked(): void
    {
        $zip = new \ZipArchive();
        $zip->open($path = Sounds::folder().'/many.zip', \ZipArchive::CREATE);
        for ($i = 0; $i < 3000; ++$i) {
            $zip->addFromString("kit$i.sfz", '<region> sample=a.wav');
        }
        $zip->close();
        $state = self::bring(['many.zip' => (string) file_get_contents($path)]);
        self::assertStringContainsString('holds more than 100 SFZ files', self::text($state['message']));
    }

    public function testOddNamesComeInAndAKitThatCannotBeReadHarmsNoPage(): void
    {
        $tone = (string) file_get_contents(self::tone(Sounds::folder().'/own.wav', 900));
        $state = self::bring(["Odd\x7fone.sfz" => "<region> key=36 region_label=a\tb\x7f sample=x\x7fy.wav magic=tab\x01bed\n", "x\x7fy.wav" => $tone]);
        self::assertSame('done', $state['state'], self::text($state['message']));
        $shelf = self::service(KitShelf::class);
        $sheet = $shelf->found('odd', 5)[0][0]['sheet'] ?? null;
        self::assertNotNull($sheet);
        self::assertSame(['Odd one', 'a b', ['magic' => 'tab bed']], [$sheet->name, $sheet->pads['a0']->name, $sheet->pads['a0']->main()->kept]);
        // What an older version, or a worn disk, left.
        self::service(Connection::class)->executeStatement("UPDATE kit_version SET body = replace(body, 'a b', 'a' || char(9) || 'b')");
        $beat = self::beat();
        $page = (string) self::ask('GET', "/beats/$beat/kit?side=shelf", null, ['Accept' => 'text/html'])->getContent();
        self::assertStringContainsString('What it holds cannot be read.', $page);
        $id = $shelf->found('odd', 5)[0][0]['kit']->id;
        self::assertSame(200, self::ask('POST', "/kits/$id/delete", [])->getStatusCode());
        self::assertSame(0, $shelf->found('odd', 5)[1]);
    }

    public function testTheShelfShowsAPageOfManyKitsAndFindsByItsServer(): void
    {
        $shelf = self::service(KitShelf::class);
        [[$one]] = $shelf->found('again', 1);
        self::assertNotNull($one['sheet']);
        for ($i = 0; $i < 60; ++$i) {
            $kit = new ShelvedKit(\sprintf('Crowd %02d', $i));
            $kit->tags = 7 === $i ? ['Überlaut'] : [];
            $shelf->save($kit, $one['sheet']);
        }
        $beat = self::beat();
        $page = (string) self::ask('GET', "/beats/$beat/kit?side=shelf&kits=crowd", null, ['Accept' => 'text/html'])->getContent();
        self::assertSame(20, substr_count($page, 'class="shelved"'));
        self::assertStringContainsString('More (40 left)', $page);
        self::assertSame(60, substr_count((string) self::ask('GET', "/beats/$beat/kit?side=shelf&kits=crowd&kitsMost=80", null, ['Accept' => 'text/html'])->getContent(), 'class="shelved"'));
        self::assertSame(1, $shelf->found('überlaut crowd', 5)[1]);
        $long = self::ask('POST', "/beats/$beat/shelf", ['part' => 'part-1', 'name' => 'Long', 'tags' => 'fine, '.str_repeat('x', 31)], ['X-Pestle-Head' => '0']);
        self::assertSame(422, $long->getStatusCode());
        self::assertStringContainsString('at most 30 characters', self::text(self::json($long)['error'] ?? ''));
    }

    /**
     * @param array<string, string> $files bytes by name
     *
     * @return array<string, mixed>
     */
    private static function bring(array $files): array
    {
        $ids = array_map(static fn (string $name, string $bytes): string => self::kept($name, $bytes), array_keys($files), array_values($files));
        $id = self::text(self::json(self::ask('POST', '/kits', ['uploads' => $ids]))['id'] ?? null);
        self::work();

        return self::json(self::ask('GET', "/uploads/$id"));
    }

    private static function kept(string $name, string $bytes): string
    {
        // The pages' own door refuses what no file is called; what came before it did is in the table still.
        $entities = self::service(EntityManagerInterface::class);
        $upload = new Upload(bin2hex(random_bytes(12)), $name, \strlen($bytes));
        $upload->state = Upload::KEPT;
        $entities->persist($upload);
        $entities->flush();
        @mkdir(self::$data.'/incoming', 0o700);
        file_put_contents(self::$data.'/incoming/'.$upload->id, $bytes);

        return $upload->id;
    }

    private static function beat(): int
    {
        return self::service(Beats::class)->add(Beat::empty('Shelf'))->id;
    }

    private static function tone(string $path, int $frames): string
    {
        $wave = array_map(static fn (int $i): float => 0.5 * sin($i * $frames / 5000), range(0, $frames - 1));
        $writer = new WavWriter($path, 44100, SampleFormat::Int16);
        $writer->write(new StereoBlock($wave, $wave));
        $writer->close();

        return $path;
    }
}
