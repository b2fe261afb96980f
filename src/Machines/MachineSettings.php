<?php

namespace Pestle\App\Machines;

use League\Flysystem\Filesystem;
use League\Flysystem\FilesystemOperator;
use League\Flysystem\Local\LocalFilesystemAdapter;
use League\Flysystem\PhpseclibV3\SftpAdapter;
use League\Flysystem\PhpseclibV3\SftpConnectionProvider;
use League\Flysystem\UnixVisibility\PortableVisibilityConverter;
use Pestle\Core\Beat\InvalidChange;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** Where many machines meet: PESTLE_QUEUE names a Redis, PESTLE_FILES a place that all of them reach. Without the first everything is done here. */
final readonly class MachineSettings
{
    private const QUEUES = ['redis', 'rediss', 'unix'];
    /** Seconds without a sign of life after which what a worker had is somebody else's. */
    private const IDLE_SECONDS = 30.0;

    public function __construct(#[Autowire('%env(PESTLE_QUEUE)%')] private string $queue, #[Autowire('%env(PESTLE_FILES)%')] private string $files, #[Autowire('%env(PESTLE_NAME)%')] private string $name)
    {
    }

    public static function ofEnvironment(): self
    {
        return new self((string) getenv('PESTLE_QUEUE'), (string) getenv('PESTLE_FILES'), (string) getenv('PESTLE_NAME'));
    }

    /** @throws InvalidChange where the settings cannot be meant */
    public function check(): void
    {
        $this->redis();
        $this->files();
    }

    public function areMany(): bool
    {
        return '' !== $this->queue;
    }

    /** What this machine is called, for people. */
    public function name(): string
    {
        $name = (string) preg_replace('/[^\w .-]+/u', ' ', mb_scrub('' === $this->name ? (string) gethostname() : $this->name));

        return mb_substr('' === trim($name) ? 'a machine' : trim($name), 0, 40);
    }

    /**
     * A connection to the queue of one's own.
     *
     * @throws InvalidChange where the settings name none
     */
    public function redis(): Redis
    {
        if (!\in_array(parse_url($this->queue, \PHP_URL_SCHEME), self::QUEUES, true)) {
            throw new InvalidChange('PESTLE_QUEUE must name a Redis, like redis://:password@queue.local:6379/0.');
        }

        return new Redis($this->queue);
    }

    /** Seconds. */
    public function idle(): float
    {
        parse_str((string) parse_url($this->queue, \PHP_URL_QUERY), $said);

        return is_numeric($said['idle'] ?? null) ? max(1.0, (float) $said['idle']) : self::IDLE_SECONDS;
    }

    /** @throws InvalidChange where the settings name none */
    public function files(): FilesystemOperator
    {
        if (str_starts_with($this->files, '/')) {
            return new Filesystem(new LocalFilesystemAdapter($this->files, new PortableVisibilityConverter(0o600, 0o600, 0o700, 0o700)));
        }
        $url = parse_url($this->files);
        if (!\is_array($url) || 'sftp' !== ($url['scheme'] ?? '') || '' === ($url['host'] ?? '') || '' === ($url['user'] ?? '') || '' === ($url['path'] ?? '')) {
            throw new InvalidChange('PESTLE_FILES must name a folder that all machines reach, like /mnt/pestle, or sftp://name@files.local/folder?key=/home/name/.ssh/id_ed25519&print=SHA256:….');
        }
        parse_str($url['query'] ?? '', $said);
        $text = static fn (string $what): ?string => \is_string($said[$what] ?? null) && '' !== $said[$what] ? $said[$what] : null;

        return new Filesystem(new SftpAdapter(new SftpConnectionProvider(
            $url['host'],
            rawurldecode($url['user']),
            isset($url['pass']) ? rawurldecode($url['pass']) : null,
            $text('key'),
            null,
            $url['port'] ?? 22,
            hostFingerprint: null === $text('print') ? null : str_replace(' ', '+', $text('print')),
        ), $url['path'], new PortableVisibilityConverter(0o600, 0o600, 0o700, 0o700)));
    }
}
