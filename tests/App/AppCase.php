<?php

namespace Pestle\Tests\App;

use Pestle\App\Entity\Sample;
use Pestle\App\Gather\SampleStore;
use Pestle\App\Kernel;
use Pestle\App\Storage\Beats;
use Pestle\App\Trust\RequestGuard;
use Pestle\Core\Audio\MemorySource;
use Pestle\Core\Audio\SampleFormat;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Audio\WavWriter;
use Pestle\Core\Synth\DrumVoices;
use Pestle\Tests\Core\Sounds;
use PHPUnit\Framework\TestCase;
use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Input\ArrayInput;
use Symfony\Component\Console\Output\NullOutput;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Messenger\MessageBusInterface;

/** The application with a data folder of its own: real database, real files. */
abstract class AppCase extends TestCase
{
    protected static string $data;
    protected static Kernel $kernel;

    public static function setUpBeforeClass(): void
    {
        self::$data = Sounds::folder();
        $_SERVER['PESTLE_DATA'] = $_ENV['PESTLE_DATA'] = self::$data;
        putenv('PESTLE_DATA='.self::$data);
        self::$kernel = new Kernel('test', false);
        self::$kernel->boot();
        self::run_command('doctrine:migrations:migrate', ['--no-interaction' => true]);
    }

    public static function tearDownAfterClass(): void
    {
        self::$kernel->shutdown();
        restore_exception_handler();
    }

    /** @param array<string, mixed> $arguments */
    private static function run_command(string $name, array $arguments): void
    {
        $application = new Application(self::$kernel);
        $application->setAutoExit(false);
        self::assertSame(0, $application->run(new ArrayInput(['command' => $name, ...$arguments]), new NullOutput()));
    }

    /**
     * @template T of object
     *
     * @param class-string<T> $class
     *
     * @return T
     */
    protected static function service(string $class): object
    {
        $service = self::$kernel->getContainer()->get('test.'.$class);
        self::assertInstanceOf($class, $service);

        return $service;
    }

    /**
     * @param array<string, mixed>|string|null $body    JSON, or bytes
     * @param array<string, string>            $headers
     */
    protected static function ask(string $method, string $path, array|string|null $body = null, array $headers = []): Response
    {
        $server = ['HTTP_HOST' => '127.0.0.1:8777', 'HTTP_ACCEPT' => 'application/json'];
        if ('GET' !== $method) {
            $server['HTTP_X_PESTLE_TOKEN'] = self::service(RequestGuard::class)->token();
        }
        foreach ($headers as $name => $value) {
            $server['HTTP_'.strtoupper(strtr($name, '-', '_'))] = $value;
        }
        if (\is_array($body)) {
            $server['CONTENT_TYPE'] = 'application/json';
            $body = json_encode($body, \JSON_THROW_ON_ERROR);
        }

        return self::$kernel->handle(Request::create($path, $method, [], [], [], array_filter($server, static fn (string $v): bool => '-' !== $v), $body));
    }

    /** @return array<string, mixed> */
    protected static function json(Response $response): array
    {
        $data = json_decode((string) $response->getContent(), true);
        self::assertIsArray($data, (string) $response->getContent());
        $named = [];
        foreach ($data as $key => $value) {
            $named[(string) $key] = $value;
        }

        return $named;
    }

    /** @param array<string, mixed> $change */
    protected static function change(int $beat, int $head, array $change): Response
    {
        return self::ask('POST', "/beats/$beat/changes", $change, ['X-Pestle-Head' => (string) $head]);
    }

    /**
     * Sends a file as the pages do and lets the worker's handler take it in.
     *
     * @return array<string, mixed>
     */
    protected static function upload(string $name, string $bytes): array
    {
        $begun = self::json(self::ask('POST', '/uploads', ['name' => $name, 'size' => \strlen($bytes)]));
        $id = self::text($begun['id'] ?? null);
        foreach (str_split($bytes, 4_194_304) as $i => $part) {
            self::assertSame(200, self::ask('PUT', "/uploads/$id?at=".$i * 4_194_304, $part)->getStatusCode());
        }
        self::work();

        return self::json(self::ask('GET', "/uploads/$id"));
    }

    /** Does the work that waits, as the worker would. */
    protected static function work(): void
    {
        foreach (['short', 'long', 'deliver'] as $lane) {
            $transport = self::$kernel->getContainer()->get('test.'.$lane);
            self::assertInstanceOf(\Symfony\Component\Messenger\Transport\TransportInterface::class, $transport);
            foreach ($transport->get() as $envelope) {
                self::service(MessageBusInterface::class)->dispatch($envelope->with(new \Symfony\Component\Messenger\Stamp\ReceivedStamp($lane)));
                $transport->ack($envelope);
                self::work();
            }
        }
    }

    protected static function text(mixed $value): string
    {
        self::assertIsString($value);

        return $value;
    }

    /** @param array<string, mixed> $change */
    protected static function made(int $beat, array $change): void
    {
        $answer = self::change($beat, self::service(Beats::class)->find($beat)->head ?? 0, $change);
        self::assertSame(200, $answer->getStatusCode(), (string) $answer->getContent());
    }

    /** @param list<float> $places seconds, kick and snare by turns */
    protected static function drums(array $places, float $seconds): StereoBlock
    {
        $kit = new DrumVoices(44100);
        [$kick, $snare] = [$kit->kick()->left, $kit->snare()->left];
        $mix = array_fill(0, max(1, (int) ($seconds * 44100)), 0.0);
        foreach ($places as $i => $place) {
            foreach (0 === $i % 2 ? $kick : $snare as $n => $x) {
                $at = (int) round($place * 44100) + $n;
                if (isset($mix[$at])) {
                    $mix[$at] += 0.6 * $x;
                }
            }
        }

        return new StereoBlock($mix, $mix);
    }

    protected static function sample(string $name, StereoBlock $sound): Sample
    {
        $path = Sounds::folder().'/sound.wav';
        WavWriter::copy(new MemorySource($sound, 44100), $path, SampleFormat::Int16);

        return self::service(SampleStore::class)->add($path, $name.'.wav');
    }

    /** @return array{array<string, mixed>, string} */
    protected static function sound(Response $response): array
    {
        $bytes = (string) $response->getContent();
        self::assertSame(200, $response->getStatusCode(), $bytes);
        /** @var array{1: int} $length */
        $length = unpack('V', $bytes);
        self::assertSame(0, $length[1] % 4);
        $answer = json_decode(substr($bytes, 4, $length[1]), true);
        self::assertIsArray($answer);
        $named = [];
        foreach ($answer as $key => $value) {
            $named[(string) $key] = $value;
        }

        return [$named, substr($bytes, 4 + $length[1])];
    }
}
