<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\Shared\CommandLine\GivenFile;
use Ypomna\App\Shared\CommandLine\Output;
use Ypomna\Core\Warc\Inspector;
use Ypomna\Core\Warc\Record;
use Ypomna\Core\Warc\RecordFacts;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\WarcFinding;
use Ypomna\Core\Warc\WarcFindingCode;
use Ypomna\Core\Warc\WarcReader;

/** Lists the records of a WARC file, in the order of the file. */
#[AsCommand('warc:list', 'Lists the records of a WARC file, with their digests')]
final class WarcListCommand extends Command
{
    protected function configure(): void
    {
        $this->addArgument(
            'file', InputArgument::REQUIRED, 'A WARC file, plain or gzip; - is standard input',
        )->addOption('json', null, InputOption::VALUE_NONE, 'One JSON object a line');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $name = $input->getArgument('file');
        $file = new GivenFile(\is_string($name) ? $name : '');
        $out = new Output($output, true === $input->getOption('json'));
        $wrong = false;
        $reader = WarcReader::open($file->path);
        foreach ($reader->records() as $record) {
            $facts = Inspector::inspect($record);
            $record->finish();
            $row = self::row($record, $facts);
            $wrong = $wrong || null !== $row['problem'];
            $out->row($row, \sprintf(
                '%10d %10d  %-12s %-3s %-10s %s', $row['offset'], $row['length'], $row['type'], $row['status'] ?? '', $row['digest'],
                $row['uri'] ?? '',
            )
                .(null === $row['problem'] ? '' : '  ! '.$row['problem']));
        }
        foreach ($reader->findings() as $finding) {
            if (!$finding->code->isWarning() && WarcFindingCode::DigestMismatch !== $finding->code) {
                $wrong = true;
                $out->tell($file->name.': '.$finding->code->value.': '.$finding->message);
            }
        }

        return $wrong ? Command::FAILURE : Command::SUCCESS;
    }

    /**
     * @return array{
     *     offset: int, length: int, version: string, type: string, id: string|null, refersTo: string|null, concurrentTo: string|null,
     *     uri: string|null, date: string|null, contentType: string|null, contentLength: int|null, blockSha256: string,
     *     payloadSha256: string|null, declared: array{block: string|null, payload: string|null}, digest: string, status: int|null,
     *     mime: string|null, truncated: string|null, problem: string|null,
     * }
     */
    private static function row(Record $record, RecordFacts $facts): array
    {
        $header = $record->header;
        $http = $header->isHttp() ? $facts->http : null;
        $problems = array_map(
            static fn (WarcFinding $f): string => $f->message,
            array_filter($record->findings(), static fn (WarcFinding $f): bool => !$f->code->isWarning()),
        );

        return [
            'offset' => $record->offset, 'length' => $record->length(), 'version' => $header->version,
            'type' => RecordType::tryFrom($header->type())->value ?? $header->fields->get('WARC-Type') ?? '', 'id' => $header->id(),
            'refersTo' => $header->refersTo(),
            'concurrentTo' => $header->concurrentTo(), 'uri' => $header->uri(), 'date' => $header->date(),
            'contentType' => $header->contentType(), 'contentLength' => $header->contentLength(),
            'blockSha256' => $facts->blockSha256, 'payloadSha256' => $facts->payloadSha256,
            'declared' => ['block' => $header->fields->get('WARC-Block-Digest'), 'payload' => $header->fields->get('WARC-Payload-Digest')],
            'digest' => $facts->digest->value, 'status' => $http?->status,
            'mime' => $header->is(RecordType::Resource, RecordType::Conversion)
                ? $header->mime()
                : (null === $http?->status ? null : $http->mime()),
            'truncated' => $header->fields->get('WARC-Truncated'), 'problem' => [] === $problems ? null : implode(' ', $problems),
        ];
    }
}
