<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Symfony\Component\Process\Exception\ProcessFailedException;
use Symfony\Component\Process\Exception\ProcessTimedOutException;
use Symfony\Component\Process\Process;
use Ypomna\App\Search\Value\Means;
use Ypomna\App\Search\Value\Reading;

/**
 * Words of recordings, as PocketSphinx hears them, where that and FFmpeg are installed; with limits: the recording is somebody else's. It
 * knows English.
 */
final readonly class SpokenWords
{
    /** So much of a recording is listened to, in seconds. */
    private const LONGEST = 3_600;
    private const SECONDS = 7_200;
    private const HEARER = '/usr/bin/pocketsphinx_continuous';
    private const MAKER = '/usr/bin/ffmpeg';
    /** Forms that hold their sound themselves, by how they begin. Lists that lead to other files are none of them. */
    private const FORMS = [
        'matroska' => '/^\x1A\x45\xDF\xA3/', 'ogg' => '/^OggS/', 'mov' => '/^.{4}ftyp/s', 'wav' => '/^RIFF.{4}WAVE/s', 'flac' => '/^fLaC/',
        'mp3' => '/^(?:ID3|\xFF[\xE0-\xFF])/',
    ];

    public function isThere(): bool
    {
        return is_executable(self::HEARER) && is_executable(self::MAKER);
    }

    public function heard(string $path): Reading
    {
        $form = self::form($path);
        $plain = null === $form ? false : tempnam(sys_get_temp_dir(), 'ypomna-sound-');
        if (false === $plain) {
            return new Reading(Means::Heard, [], 'damaged');
        }
        try {
            $this->run([
                self::MAKER, '-nostdin', '-v', 'error', '-protocol_whitelist', 'file', '-y', '-f', $form, '-i', $path,
                '-t', (string) self::LONGEST, '-vn', '-ac', '1', '-ar', '16000', '-f', 'wav', $plain,
            ], self::SECONDS);
            $said = $this->run([self::HEARER, '-infile', $plain, '-logfn', '/dev/null'], self::SECONDS);
        } catch (ProcessTimedOutException) {
            return new Reading(Means::Heard, [], 'too_long');
        } catch (ProcessFailedException) {
            return new Reading(Means::Heard, [], 'damaged');
        } finally {
            @unlink($plain);
        }

        return new Reading(Means::Heard, array_values(array_filter(array_map(
            // What it takes for a breath or a noise stands in brackets.
            static fn (string $line): string => trim((string) preg_replace('/\[[^\]]*\]|<[^>]*>|\(\d+\)/', '', mb_scrub($line))),
            explode("\n", $said),
        ), static fn (string $line): bool => '' !== $line)));
    }

    private static function form(string $path): ?string
    {
        $beginning = (string) @file_get_contents($path, false, null, 0, 16);
        foreach (self::FORMS as $form => $pattern) {
            if (1 === preg_match($pattern, $beginning)) {
                return $form;
            }
        }

        return null;
    }

    /** @param list<string> $command */
    private function run(array $command, int $seconds): string
    {
        $process = new Process(
            ['prlimit', '--as=2147483648', '--cpu='.$seconds, '--fsize=268435456', ...$command], sys_get_temp_dir(),
            ['PATH' => '/usr/bin:/bin', 'HOME' => '/nonexistent'], null, $seconds,
        );
        $process->mustRun();

        return $process->getOutput();
    }
}
