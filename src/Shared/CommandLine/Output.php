<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\CommandLine;

use Symfony\Component\Console\Output\ConsoleOutputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * What the file commands say: data to standard output, as JSON lines or in columns; messages for people to standard error.
 */
final readonly class Output
{
    public function __construct(private OutputInterface $output, public bool $json)
    {
    }

    /**
     * @param array<string, mixed> $data
     * @param string $line the same for people
     */
    public function row(array $data, string $line): void
    {
        $this->output->writeln(
            $this->json
                ? json_encode(
                    $data,
                    \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE
                        | \JSON_INVALID_UTF8_SUBSTITUTE | \JSON_PRESERVE_ZERO_FRACTION,
                )
                : self::plain($line),
            OutputInterface::OUTPUT_RAW,
        );
    }

    public function tell(string $message): void
    {
        $error = $this->output instanceof ConsoleOutputInterface ? $this->output->getErrorOutput() : $this->output;
        $error->writeln(self::plain($message), OutputInterface::OUTPUT_RAW);
    }

    /** What files say must not steer the terminal that it is shown on. */
    private static function plain(string $text): string
    {
        return (string) preg_replace('/[\x00-\x08\x0b-\x1f\x7f]|\xc2[\x80-\x9f]/', '�', mb_scrub($text));
    }
}
