<?php

namespace Pestle\Tests\App;

use Pestle\App\Gather\SampleStore;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;

final class GatherTest extends AppCase
{
    public function testAFileBecomesASampleOnce(): void
    {
        $bytes = self::wav(Sounds::hit(3, 44100));
        $state = self::upload('Tin_roof rain.wav', $bytes);
        self::assertSame('done', $state['state'], self::text($state['message']));
        self::assertIsArray($state['sample']);
        self::assertSame(['Tin roof rain', 44100, 44100], [$state['sample']['name'], $state['sample']['frames'], $state['sample']['rate']]);
        $hash = self::text($state['sample']['hash']);
        self::assertSame(hash('sha256', $bytes), $hash);
        self::assertFileExists(self::$data.'/originals/'.substr($hash, 0, 2).'/'.$hash);
        $again = self::upload('the same.wav', $bytes);
        self::assertIsArray($again['sample']);
        self::assertSame('Tin roof rain', $again['sample']['name']);
        self::upload('Tin_roof rain.wav', $bytes);
        // It is found by its other name too, which is told.
        self::assertSame('1 found', self::found('search=the+same'));
        self::assertStringContainsString('Also came as the same.', (string) self::ask('GET', '/beats/1/gather?sample='.$hash, null, ['Accept' => 'text/html'])->getContent());
        self::assertSame([], array_diff(scandir(self::$data.'/incoming') ?: [], ['.', '..']));
        self::assertSame(200, self::ask('GET', "/samples/$hash/outline/0/0")->getStatusCode());
        self::assertSame(4 * 100, \strlen((string) self::ask('GET', "/samples/$hash/frames?from=44000&count=100")->getContent()));
        self::assertIsArray(self::json(self::ask('GET', "/samples/$hash/hits?sensitivity=90"))['hits']);
    }

    /** Cue points and the loop of a file: markers in Chop, a loop on keys; by edits they move along. */
    public function testMarkersAndTheLoopOfAFileAreTaken(): void
    {
        $cue = static fn (int $i, int $frame): string => pack('VVa4VVV', $i, $frame, 'data', 0, 0, $frame);
        $smpl = pack('V9V6', 0, 0, 0, 50, 0, 0, 0, 1, 0, 0, 0, 6000, 9999, 0, 0);
        $bytes = self::wav(Sounds::hit(12, 12000));
        $chunks = 'cue '.pack('VV', 4 + 24 * 4, 4).$cue(1, 8000).$cue(2, 2000).$cue(3, 2000).$cue(4, 99999).'smpl'.pack('V', \strlen($smpl)).$smpl;
        $file = 'RIFF'.pack('V', \strlen($bytes) - 8 + \strlen($chunks)).substr($bytes, 8).$chunks;
        $state = (array) self::upload('Marked.wav', $file)['sample'];
        $hash = self::text($state['hash']);
        self::assertSame(12000, $state['frames']);
        $page = static fn (string $at): string => html_entity_decode((string) self::ask('GET', $at, null, ['Accept' => 'text/html'])->getContent());
        $beats = self::service(\Pestle\App\Storage\Beats::class);
        $beat = $beats->add(\Pestle\Core\Beat\Beat::empty('Marks'));
        self::assertStringContainsString('2 markers, offered in Chop; a loop from 0.14 s to 0.23 s, taken on keys', $page("/beats/{$beat->id}/gather?sample=$hash"));
        self::assertMatchesRegularExpression('/"type":"add-part"[^}]*"sample":"'.$hash.'"[^}]*"loopStart":6000,"loopEnd":10000/', $page("/beats/{$beat->id}/gather?sample=$hash"));
        self::assertStringContainsString('"markers":[2000,8000],"how":"file"', $page("/beats/{$beat->id}/chop?sample=$hash"));
        self::made((int) $beat->id, ['type' => 'set-slices', 'sample' => $hash, 'markers' => [2000, 8000], 'how' => 'file']);
        self::made((int) $beat->id, ['type' => 'add-part', 'id' => 'part-2', 'name' => 'Marked', 'sample' => $hash, 'start' => 0, 'end' => 12000, 'rootCents' => 5000, 'loopStart' => 6000, 'loopEnd' => 10000]);
        self::assertSame(422, self::change((int) $beat->id, $beats->find((int) $beat->id)->head ?? 0, ['type' => 'add-part', 'id' => 'part-3', 'name' => 'Marked', 'sample' => $hash, 'start' => 0, 'end' => 8000, 'rootCents' => 5000, 'loopStart' => 6000, 'loopEnd' => 10000])->getStatusCode());
        $keys = $beats->content($beats->find((int) $beat->id) ?? $beat, 3)->parts['part-2']->keys;
        self::assertSame([6000, 10000], [$keys?->main()?->sound->loopStart, $keys?->main()?->sound->loopEnd]);
        self::made((int) $beat->id, ['type' => 'set-edits', 'sample' => $hash, 'frames' => 12000, 'edits' => [['kind' => 'keep', 'from' => 1000, 'to' => 9000]]]);
        self::assertStringContainsString('"markers":[1000,7000],"how":"file"', $page("/beats/{$beat->id}/chop?sample=$hash"));
    }

    /** @return iterable<string, array{int}> lengths that end within a block of the coder */
    public static function lengths(): iterable
    {
        foreach ([900, 5000, 10001, 44164] as $frames) {
            yield "$frames frames" => [$frames];
        }
    }

    #[DataProvider('lengths')]
    public function testVorbisIsAsLongAsItSays(int $frames): void
    {
        $path = self::$data.'/../'.bin2hex(random_bytes(4));
        file_put_contents($path.'.wav', self::wav(Sounds::hit(5, $frames)));
        exec(\sprintf('ffmpeg -v error -i %1$s.wav -c:a libvorbis -q 6 -y %1$s.ogg', escapeshellarg($path)), $_, $failed);
        self::assertSame(0, $failed);
        self::assertSame($frames, ((array) self::upload("Long $frames.ogg", (string) file_get_contents($path.'.ogg'))['sample'])['frames'] ?? null);
        array_map(unlink(...), [$path.'.wav', $path.'.ogg']);
    }

    public function testPartsMayBeSentAgainButNotLeftOut(): void
    {
        $bytes = self::wav(Sounds::hit(4, 600_000));
        $id = self::text(self::json(self::ask('POST', '/uploads', ['name' => 'long.wav', 'size' => \strlen($bytes)]))['id']);
        $part = static fn (int $at, int $length = 1_000_000): \Symfony\Component\HttpFoundation\Response => self::ask('PUT', "/uploads/$id?at=$at", substr($bytes, $at, $length));
        self::assertSame(422, $part(1_000_000)->getStatusCode());
        foreach ([0, 0, 1_000_000, 2_000_000] as $at) {
            self::assertSame(200, $part($at)->getStatusCode());
        }
        self::assertSame('listening', self::json($part(3_000_000))['state']);
        self::assertSame(422, $part(0)->getStatusCode());
        // The process ended between storing that it is whole and handing out its work; its last part is sent again, twice.
        $queue = new \PDO('sqlite:'.self::$data.'/queue.sqlite');
        self::assertSame(1, $queue->exec('DELETE FROM job'));
        self::assertSame([200, 200], [$part(3_000_000)->getStatusCode(), self::ask('PUT', "/uploads/$id?at=3000000", substr($bytes, 3_000_000))->getStatusCode()]);
        $count = $queue->query('SELECT count(*) FROM job');
        self::assertNotFalse($count);
        self::assertSame(1, $count->fetchColumn());
        self::work();
        $sample = self::json(self::ask('GET', "/uploads/$id"))['sample'];
        self::assertIsArray($sample);
        self::assertSame(hash('sha256', $bytes), $sample['hash']);
    }

    public function testACancelledUploadLeavesNothing(): void
    {
        $id = self::text(self::json(self::ask('POST', '/uploads', ['name' => 'a.wav', 'size' => 5000]))['id']);
        self::ask('PUT', "/uploads/$id?at=0", str_repeat('x', 1000));
        self::assertFileExists(self::$data.'/incoming/'.$id);
        self::assertSame('failed', self::json(self::ask('DELETE', "/uploads/$id"))['state']);
        self::assertFileDoesNotExist(self::$data.'/incoming/'.$id);
    }

    /** @return iterable<string, array{string, string}> encoder of ffmpeg and ending */
    public static function foreign(): iterable
    {
        yield 'FLAC' => ['flac', 'flac'];
        yield 'MP3' => ['libmp3lame', 'mp3'];
        yield 'Ogg' => ['libvorbis', 'ogg'];
    }

    #[DataProvider('foreign')]
    public function testOtherFormatsAreDecoded(string $codec, string $ending): void
    {
        $folder = Sounds::folder();
        $sine = Sounds::sine(440, 88200);
        file_put_contents($folder.'/a.wav', self::wav(new StereoBlock($sine, $sine)));
        exec(\sprintf('ffmpeg -v error -i %1$s/a.wav -c:a %2$s %1$s/a.%3$s', $folder, $codec, $ending), $output, $code);
        self::assertSame(0, $code);
        $state = self::upload('tone.'.$ending, (string) file_get_contents($folder.'/a.'.$ending));
        self::assertSame('done', $state['state'], self::text($state['message']));
        self::assertIsArray($state['sample']);
        $sound = self::service(SampleStore::class)->library()->open(self::text($state['sample']['hash']));
        self::assertEqualsWithDelta(88200, $sound->frames(), 3000);
        self::assertEqualsWithDelta(0.5, $sound->read(40000, 4000)->peak(), 0.05);
        self::assertLessThan(-35.0, Sounds::unwanted($sound->read(40000, 4000)->left, 440, 44100));
    }

    /** @return iterable<string, array{string, non-empty-string}> */
    public static function bad(): iterable
    {
        yield 'a picture named .wav' => ["\x89PNG\r\n\x1a\n".str_repeat("\0", 50), 'picture.wav: this is not a WAV file'];
        yield 'text' => ['hello', 'picture.wav: this is not a WAV file'];
        yield 'a cut FLAC' => ['fLaC'.str_repeat("\0", 30), 'picture.wav: it looks like FLAC but cannot be decoded'];
        yield 'a playlist posing as Ogg' => ["OggS\nfile '/etc/passwd'", 'picture.wav: it looks like OGG but cannot be decoded'];
    }

    /** @param non-empty-string $message */
    #[DataProvider('bad')]
    public function testWhatIsNoSoundIsRefusedByName(string $bytes, string $message): void
    {
        $state = self::upload('picture.wav', $bytes);
        self::assertSame('failed', $state['state']);
        self::assertStringStartsWith($message, self::text($state['message']));
        self::assertNull($state['sample']);
        self::assertSame([], glob(self::$data.'/samples/*/*.part'));
    }

    public function testTheOddestSoundsComeIn(): void
    {
        $one = self::upload('one.wav', self::wav(new StereoBlock([0.5], [0.5])));
        self::assertSame('done', $one['state'], self::text($one['message']));
        $silence = self::upload('silence.wav', self::wav(StereoBlock::silence(44100)));
        self::assertIsArray($silence['sample']);
        self::assertFalse($silence['sample']['loop']);
        $many = 'WAVEfmt '.pack('VvvVVvv', 16, 1, 16, 384000, 0, 32, 16).'data'.pack('V', 3200).str_repeat("\x00\x10", 1600);
        $state = self::upload('many.wav', 'RIFF'.pack('V', \strlen($many)).$many);
        self::assertSame('done', $state['state'], self::text($state['message']));
        self::assertIsArray($state['sample']);
        self::assertSame('16 channels are played folded down to stereo', self::service(SampleStore::class)->find(self::text($state['sample']['hash']))?->note);
    }

    private static function wav(StereoBlock $block): string
    {
        $path = Sounds::folder().'/a.wav';
        $writer = new WavWriter($path, 44100, SampleFormat::Int24);
        $writer->write($block);
        $writer->close();

        return (string) file_get_contents($path);
    }

    /** One thing is said of many at once, and taken back as one; what is in use stays. */
    public function testManySoundsAreTaggedMarkedAndTakenOut(): void
    {
        $hashes = [];
        foreach (range(0, 5) as $i) {
            $hashes[] = self::text(((array) self::upload("Bundle $i.wav", self::wav(Sounds::hit(70 + $i, 3000 + $i)))['sample'])['hash'] ?? null);
        }
        $many = static fn (array $said): array => self::json(self::ask('POST', '/library/many', (string) json_encode($said)));
        $database = self::service(\Doctrine\DBAL\Connection::class);
        $told = static fn (string $what): array => array_map(static fn (string $hash): mixed => $database->fetchOne("SELECT $what FROM sample WHERE hash = ?", [$hash]), $hashes);
        self::json(self::ask('POST', '/library/'.$hashes[0], ['tags' => 'dusty, night']));
        $tagged = $many(['samples' => $hashes, 'add' => 'Night']);
        self::assertSame(['["dusty","night"]', ...array_fill(0, 5, '["night"]')], $told('tags'));
        self::assertCount(5, (array) ((array) $tagged['before'])['said'], 'One had it already.');
        $again = $many((array) $tagged['before']);
        self::assertSame(['["dusty","night"]', ...array_fill(0, 5, '[]')], $told('tags'));
        $many((array) $again['before']);
        self::assertSame(['["dusty","night"]', ...array_fill(0, 5, '["night"]')], $told('tags'));
        self::assertSame('6 found', self::found('search=night+bundle'));
        $many(['samples' => \array_slice($hashes, 0, 2), 'take' => 'night']);
        self::assertSame('4 found', self::found('search=night+bundle'));
        $many(['samples' => \array_slice($hashes, 0, 3), 'favourite' => true]);
        self::assertSame([1, 1, 1, 0, 0, 0], $told('favourite'));

        // A beat plays one of them.
        self::service(\Pestle\App\Storage\Beats::class)->add(\Pestle\Tests\Core\Render\RandomBeats::changed(\Pestle\Core\Beat\Beat::empty('Uses one'), [['type' => 'fill-pad', 'pad' => 'a0', 'sample' => $hashes[5], 'name' => 'Many', 'role' => 'kick', 'start' => 0, 'end' => 2000]]));
        $gone = $many(['samples' => $hashes, 'gone' => true]);
        self::assertSame(1, $gone['stay']);
        self::assertSame([1, 1, 1, 1, 1, 0], $told('cleared_at IS NOT NULL'));
        self::assertSame('1 found', self::found('search=bundle'));
        $many((array) $gone['before']);
        self::assertSame('6 found', self::found('search=bundle'));
        self::assertSame($hashes, array_reverse((array) self::json(self::ask('POST', '/library/found', ['search' => 'bundle', 'sort' => '-seconds']))['found']));
        $facts = (array) self::json(self::ask('POST', '/library/facts', ['samples' => [$hashes[3], $hashes[1], str_repeat('0', 64)]]))['facts'];
        self::assertSame([$hashes[3], $hashes[1]], array_column($facts, 'hash'));
        self::assertSame([3003, 3001], array_column($facts, 'frames'));
    }

    /** What is refused is refused whole, by the field or the sound. */
    #[TestWith([['samples' => 'all', 'add' => 'x'], 'samples must be a list'])]
    #[TestWith([['samples' => [], 'add' => ',,'], null])]
    #[TestWith([['said' => 'all'], 'said must be what is said'])]
    #[TestWith([['samples' => ['full'], 'add' => 'one more'], 'has as many tags as there can be'])]
    #[TestWith([['samples' => ['full']], 'Say what to do'])]
    #[TestWith([['samples' => ['full'], 'gone' => 'perhaps'], 'gone must be on or off'])]
    #[TestWith([['said' => ['full' => ['tags' => "a\nb"]]], 'tags must be'])]
    public function testWhatCannotBeSaidOfManyChangesNothing(mixed $said, ?string $problem): void
    {
        $hash = self::text(((array) self::upload('Full.wav', self::wav(Sounds::hit(99, 2000)))['sample'])['hash'] ?? null);
        $tags = implode(', ', array_map(static fn (int $i): string => "tag $i", range(1, 12)));
        self::json(self::ask('POST', '/library/'.$hash, ['tags' => $tags]));
        $answer = self::ask('POST', '/library/many', str_replace('"full"', '"'.$hash.'"', json_encode($said, \JSON_THROW_ON_ERROR)));
        self::assertSame(null === $problem ? 200 : 422, $answer->getStatusCode());
        self::assertStringContainsString($problem ?? 'before', self::text(self::json($answer)['error'] ?? (string) $answer->getContent()));
        self::assertSame($tags, implode(', ', self::service(SampleStore::class)->find($hash)->tags ?? []));
    }

    private static function found(string $query): string
    {
        $beat = self::service(\Pestle\App\Storage\Beats::class)->all()[0] ?? self::service(\Pestle\App\Storage\Beats::class)->add(\Pestle\Core\Beat\Beat::empty('To look from'));
        preg_match('/id="shown" role="status">([^<]*)</', (string) self::ask('GET', "/beats/{$beat->id}/gather?$query", null, ['Accept' => 'text/html'])->getContent(), $count);

        return $count[1] ?? '';
    }

    /** Twenty thousand sounds: a page holds a few of them, whatever is looked for is found among all. */
    public function testALibraryOfTwentyThousandSoundsIsSearchedByTheServer(): void
    {
        $database = self::service(\Doctrine\DBAL\Connection::class);
        $one = $database->fetchAssociative('SELECT * FROM sample LIMIT 1') ?: self::fail('There is a sample.');
        $database->beginTransaction();
        for ($i = 0; $i < 20_000; ++$i) {
            $role = ['kick', 'snare', 'hat', 'bass'][$i % 4];
            $name = \sprintf('Crate %s %05d', $role, $i);
            $database->insert('sample', [...$one, 'hash' => hash('sha256', $name), 'name' => $name, 'words' => mb_strtolower($name).' folder-'.intdiv($i, 1000), 'tags' => json_encode(['folder-'.intdiv($i, 1000)]), 'said_kind' => 'one-shot', 'said_role' => $role, 'said_bpm' => null, 'said_key' => null, 'print' => null, 'favourite' => (int) (777 === $i), 'frames' => 1000 + $i, 'added_at' => \sprintf('2026-01-%02d %02d:%02d:%02d', 1 + intdiv($i, 1000), intdiv($i % 1000, 60) % 24, $i % 60, 0)]);
        }
        $database->commit();
        $beat = self::service(\Pestle\App\Storage\Beats::class)->add(\Pestle\Core\Beat\Beat::empty('Crates'))->id;
        $rows = static function (string $query) use ($beat): array {
            $page = (string) self::ask('GET', "/beats/$beat/gather?$query", null, ['Accept' => 'text/html'])->getContent();
            self::assertLessThan(150_000, \strlen($page));
            preg_match_all('/class="sample-name block"[^>]*>([^<]+)</', $page, $names);
            preg_match('/id="shown" role="status">([^<]*)</', $page, $count);

            return [$count[1] ?? '', $names[1]];
        };
        [$count, $shown] = $rows('');
        self::assertGreaterThanOrEqual(20_000, (int) $count);
        self::assertCount(36, $shown);
        self::assertSame(['1 found', ['Crate snare 12345']], $rows('search=12345+crate'));
        self::assertSame('5000 found', $rows('role=kick&search=crate')[0]);
        self::assertSame('1000 found', $rows('search=folder-7')[0]);
        self::assertSame(['1 found', ['Crate snare 00777']], $rows('mark=favourite&search=crate'));
        self::assertSame(['Crate bass 19999', 'Crate hat 19998'], \array_slice($rows('sort=-seconds&search=crate')[1], 0, 2));
        self::assertSame(['0 found', []], $rows('search=100%25'));
        self::assertSame(['0 found', []], $rows('search=%27%29--'));
        foreach (['chop', 'pattern', 'kit'] as $workspace) {
            self::assertLessThan(400_000, \strlen((string) self::ask('GET', "/beats/$beat/$workspace", null, ['Accept' => 'text/html'])->getContent()));
        }
        $database->executeStatement("DELETE FROM sample WHERE name LIKE 'Crate %'");
    }
}
