<?php

namespace Pestle\Tests\App;

use Pestle\App\Storage\Beats;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Beat\Beat;
use Pestle\Tests\Core\Render\RandomBeats;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\Attributes\DataProvider;

/** The console says what went wrong in one sentence on its error output, by its exit code, and writes where it was told to. */
final class ConsoleTest extends AppCase
{
    private static string $folder;

    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        self::$folder = Sounds::folder();
        $hash = self::text(((array) self::upload('Knock.wav', (string) file_get_contents(self::wav()))['sample'])['hash'] ?? null);
        self::service(Beats::class)->add(RandomBeats::changed(Beat::empty('Console'), [['type' => 'fill-pad', 'pad' => 'a0', 'sample' => $hash, 'name' => 'Knock', 'role' => 'kick', 'start' => 0, 'end' => 4000], ['type' => 'edit-hits', 'pattern' => 'p1', 'hits' => [[0, 'a0', 100]]]]));
    }

    public function testOutGoesThroughLinksToPipesAndToStandardOutput(): void
    {
        $midi = self::call(['pestle:midi:out', 'Console', '--only=Section 1', '--out=-'])[1];
        self::assertStringStartsWith('MThd', $midi);
        symlink(self::$folder.'/real.mid', self::$folder.'/link.mid');
        self::assertSame([0, self::$folder."/link.mid\n", ''], self::call(['pestle:midi:out', '1', '--only=s1', '--out='.self::$folder.'/link.mid']));
        self::assertTrue(is_link(self::$folder.'/link.mid'));
        self::assertSame($midi, (string) file_get_contents(self::$folder.'/real.mid'));
        // A new file has the rights of who calls, one that is there keeps its own.
        self::assertSame('644', decoct((int) fileperms(self::$folder.'/real.mid') & 0o777));
        chmod(self::$folder.'/real.mid', 0o640);
        self::call(['pestle:midi:out', '1', '--out='.self::$folder.'/real.mid']);
        clearstatcache();
        self::assertSame('640', decoct((int) fileperms(self::$folder.'/real.mid') & 0o777));
        posix_mkfifo($pipe = self::$folder.'/pipe', 0o600);
        $reader = proc_open(['cat', $pipe], [1 => ['file', self::$folder.'/read.wav', 'w']], $pipes);
        self::assertIsResource($reader);
        self::assertSame([0, '', ''], self::call(['pestle:render', '1', '--pattern=Pattern 1', '--out='.$pipe]));
        proc_close($reader);
        self::assertStringStartsWith('RIFF', (string) file_get_contents(self::$folder.'/read.wav'));
        self::assertSame('fifo', filetype($pipe));
        $rendered = self::call(['pestle:render', '1', '--section=s1', '--rate=96000', '--peak=-6', '--format=16', '--dither=shaped', '--out=/dev/stdout'])[1];
        self::assertStringStartsWith('RIFF', $rendered);
        self::assertSame(['rate' => 96000], unpack('Vrate', $rendered, 24));
        self::assertSame([], glob(self::$folder.'/*.part'));
    }

    /** Four files as long as the recording, which add up to it; or none. */
    public function testARecordingIsTakenApart(): void
    {
        $folder = self::$folder.'/apart';
        [$status, $said, $errors] = self::call(['pestle:apart', self::wav(), '--out='.$folder.'/new', '--json']);
        self::assertSame(1, $status, 'Of folders one is made, not several.');
        self::assertStringContainsString('cannot be made', $errors);
        mkdir($folder);
        [$status, $said] = self::call(['pestle:apart', self::wav(), '--out='.$folder, '--json']);
        self::assertSame(0, $status);
        $told = json_decode($said, true);
        self::assertIsArray($told);
        self::assertSame(['drums', 'bass', 'melody', 'voice'], array_keys((array) $told['parts']));
        $whole = Sounds::whole(SoundFile::open(self::wav()));
        $sum = array_fill(0, $whole->frames(), 0.0);
        foreach (['drums', 'bass', 'melody', 'voice'] as $part) {
            $file = SoundFile::open($folder.'/'.$part.'.wav');
            self::assertSame(SampleFormat::Float32, $file->format);
            self::assertSame($whole->frames(), $file->frames());
            foreach (Sounds::whole($file)->left as $i => $x) {
                $sum[$i] += $x;
            }
        }
        self::assertSame($whole->left, $sum);
        self::assertSame([], glob($folder.'/*.part'));
        self::assertSame([1, '', $folder."/none.wav: there is no such file.\n"], self::call(['pestle:apart', $folder.'/none.wav', '--out='.$folder]));
        self::assertSame(2, self::call(['pestle:apart', self::wav()])[0]);
    }

    /** A beat from nothing but a file: made, rendered; and where anything in it cannot be, there is no beat. */
    public function testABeatIsMadeFromADescription(): void
    {
        $folder = self::$folder.'/written';
        mkdir($folder);
        foreach (['kick.wav' => 3, 'snare.wav' => 4] as $name => $seed) {
            $writer = new WavWriter($folder.'/'.$name, 44100, SampleFormat::Int16);
            $writer->write(Sounds::hit($seed, 9000));
            $writer->close();
        }
        $written = ['name' => 'Written', 'bpm' => 120, 'pads' => ['a0' => 'kick.wav', 'a1' => ['sample' => 'snare.wav', 'role' => 'snare']], 'patterns' => [['name' => 'A', 'steps' => ['a0' => 'x---x---x---x---', 'a1' => '----x-------x---']]], 'sections' => [['name' => 'All', 'patterns' => ['kit' => 'A']]], 'song' => ['All x2']];
        file_put_contents($folder.'/beat.json', json_encode($written, \JSON_THROW_ON_ERROR));
        [$status, $said, $errors] = self::call(['pestle:beat:make', $folder.'/beat.json']);
        self::assertSame([0, ''], [$status, $errors]);
        self::assertMatchesRegularExpression('/^\d+  Written\n$/', $said);
        self::assertFileExists($folder.'/kick.wav');
        self::assertSame(0, self::call(['pestle:render', 'Written', '--out='.$folder.'/song.wav'])[0]);
        $sound = Sounds::whole(SoundFile::open($folder.'/song.wav'));
        self::assertGreaterThan(0.01, (new StereoBlock(\array_slice($sound->left, 154350, 9000), \array_slice($sound->right, 154350, 9000)))->peak(), 'the snare of the second time');
        self::assertStringContainsString('1  All, 1 bar, 2 times', self::call(['pestle:sheet', 'Written'])[1]);
        $beats = self::service(Beats::class);
        $beats->setDeleted($beats->called('Written'), true);
        file_put_contents($folder.'/beat.json', json_encode([...$written, 'name' => 'Wrong', 'song' => ['None']], \JSON_THROW_ON_ERROR));
        self::assertSame([1, '', "song, number 1: there is no section named \"None\".\n"], self::call(['pestle:beat:make', $folder.'/beat.json']));
        self::assertStringNotContainsString('Wrong', self::call(['pestle:list', 'beats'])[1]);
        file_put_contents($folder.'/beat.json', '{"name"');
        self::assertSame([1, '', $folder."/beat.json cannot be read as JSON: Syntax error.\n"], self::call(['pestle:beat:make', $folder.'/beat.json']));
    }

    /** @return iterable<string, array{list<string>, int, string}> */
    public static function wrongs(): iterable
    {
        yield 'no folder' => [['pestle:render', '1', '--out=/nowhere/at/all.wav'], 1, '/nowhere/at/all.wav cannot be written: its folder is not there.'];
        yield 'a folder' => [['pestle:midi:out', '1', '--out=/tmp'], 1, '/tmp cannot be written: it is a folder; name a file in it.'];
        yield 'no place' => [['pestle:render', '1'], 2, 'Say where to write with --out=FILE.wav'];
        yield 'no rate' => [['pestle:render', '1', '--pattern=Pattern 1', '--out='.sys_get_temp_dir().'/none.wav', '--rate=8000'], 1, 'rate must be one of: 44100, 48000, 88200, 96000.'];
        yield 'no bars' => [['pestle:render', '1', '--bars=4', '--section=s1', '--out='.sys_get_temp_dir().'/none.wav'], 1, '--bars names bars of the song'];
        yield 'two levels' => [['pestle:render', '1', '--out='.sys_get_temp_dir().'/none.wav', '--peak=-1', '--lufs=-14'], 1, 'choose one.'];
        yield 'no beat' => [['pestle:show', 'Teapot'], 1, 'There is no beat named "Teapot". The beats are: Console.'];
        yield 'no section' => [['pestle:midi:out', '1', '--only=Bridge', '--out=-'], 1, 'There is no section or pattern named "Bridge"'];
        yield 'too low a value' => [['pestle:set', '1', 'mixer/c1/gainDb', '-300'], 1, 'mixer/c1/gainDb must be a number from -60 to 12.'];
        yield 'nothing' => [['pestle:set'], 2, 'Not enough arguments (missing: "beat").'];
        yield 'no such option' => [['pestle:list', '--loud'], 2, 'The "--loud" option does not exist.'];
        yield 'no such list' => [['pestle:list', 'songs'], 2, 'Say which: beats, kits or samples.'];
        yield 'no kit' => [['pestle:kit:play', 'None', '--note=36', '--out=-'], 1, 'There is no kit named "None" on the shelf.'];
        yield 'no file' => [['pestle:midi:in', '1', '/no.mid'], 1, '/no.mid is not there.'];
    }

    /** @param list<string> $arguments */
    #[DataProvider('wrongs')]
    public function testWhatIsWrongIsSaidInASentence(array $arguments, int $code, string $words): void
    {
        [$status, $said, $errors] = self::call($arguments);
        self::assertSame([$code, ''], [$status, $said]);
        self::assertStringContainsString($words, $errors);
        self::assertSame(1, substr_count($errors, "\n"), $errors);
    }

    public function testValuesBelowNothingAndListsAndAnEmptyFolder(): void
    {
        self::assertSame([0, "Level of Knock: -3.5 dB (it was 0 dB)\n", ''], self::call(['pestle:set', 'Console', 'mixer/c1/gainDb', '-3.5']));
        self::assertSame([0, "1  Console  90\n", ''], self::call(['pestle:list']));
        self::assertStringContainsString('"name":"Knock"', self::call(['pestle:list', 'samples', '--json'])[1]);
        $empty = Sounds::folder();
        self::assertSame([1, '', "The data folder $empty holds nothing yet. Start bin/pestle demo once, or set PESTLE_DATA to the folder you use.\n"], self::call(['pestle:list'], $empty));
    }

    /**
     * @param list<string> $arguments
     *
     * @return array{int, string, string} exit code, output, error output
     */
    private static function call(array $arguments, ?string $data = null): array
    {
        umask(0o022);
        $process = proc_open([\PHP_BINARY, \dirname(__DIR__, 2).'/bin/console', ...$arguments], [1 => ['pipe', 'w'], 2 => ['pipe', 'w']], $pipes, null, ['PESTLE_DATA' => $data ?? self::$data, 'PATH' => (string) getenv('PATH')]);
        self::assertIsResource($process);
        [$said, $errors] = [(string) stream_get_contents($pipes[1]), (string) stream_get_contents($pipes[2])];

        return [proc_close($process), $said, $errors];
    }

    private static function wav(): string
    {
        $library = Sounds::folder();

        return (new \Pestle\Core\Render\SampleLibrary($library))->path(Sounds::put($library, Sounds::hit(3, 4000)));
    }
}
