<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Right;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Catalogue\Event\CapturesLimited;
use Ypomna\App\Exchange\Entity\Parcel;
use Ypomna\App\Exchange\Message\BuildParcel;
use Ypomna\App\Exchange\Value\ParcelOptions;
use Ypomna\App\Exchange\Value\ParcelState;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Explanation;
use Ypomna\App\Shared\KnownPeople;
use Ypomna\App\Shared\Queue\AbandonedMessage;
use Ypomna\App\Shared\Queue\ProcessorLimit;
use Ypomna\App\Shared\Viewer;

/** Where parcels are asked for, put together by a worker, fetched, and removed again. */
final readonly class Parcels
{
    private const MANY = 100;
    private const MANY_KEPT = 10_000;
    /** At once: each takes a worker for a while. */
    private const MOST_WAITING = 40;

    public function __construct(
        private EntityManagerInterface $entities,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
        private ExportBuilder $builder,
        private AddressRepository $addresses, private CaptureRepository $captures,
        private LoggerInterface $logger,
        private DataFolder $folder,
        private KnownPeople $people,
        private Gate $gate,
    ) {
    }

    /**
     * @param string $document HTML with everything in it, where one is to be printed
     *
     * @throws ExportFailed
     */
    public function ask(Viewer $viewer, ParcelOptions $wish, string $document = ''): Parcel
    {
        if (!$wish->everything && [] === $wish->captures && [] === $wish->addresses && null === $wish->document) {
            throw new ExportFailed('exchange.nothing_was_chosen');
        }
        if ($wish->everything && !$this->gate->may($viewer, Right::Guard)) {
            throw new ExportFailed('exchange.everything_is_for_custodians');
        }
        if (\count($wish->captures) > ParcelOptions::MOST_CAPTURES) {
            throw new ExportFailed('exchange.at_most_captures_one_by_one', ['most' => ParcelOptions::MOST_CAPTURES]);
        }
        if ($this->entities->getRepository(Parcel::class)->count(['state' => ParcelState::Waiting]) >= self::MOST_WAITING) {
            throw new ExportFailed('exchange.exports_are_waiting', ['most' => self::MOST_WAITING]);
        }
        $parcel = new Parcel(Codes::random(), $this->title($viewer, $wish), $wish->toArray(), $this->clock->now(), $viewer->name);
        if (null !== $wish->document) {
            (new Filesystem())->dumpFile(ExportBuilder::document($this->folder($parcel)), $document);
        }
        $this->entities->persist($parcel);
        $this->entities->flush();
        $this->bus->dispatch(new BuildParcel((int) $parcel->id));

        return $parcel;
    }

    #[AsMessageHandler]
    public function putTogether(BuildParcel $message): void
    {
        $parcel = $this->entities->find(Parcel::class, $message->parcelId);
        if (null === $parcel || ParcelState::Waiting !== $parcel->state) {
            return;
        }
        // What a worker left behind that was killed is begun anew.
        (new Filesystem())->remove($this->folder($parcel));
        (new Filesystem())->mkdir(\dirname($this->folder($parcel)), 0o700);
        $contents = null;
        $reason = Explanation::unexpected();
        try {
            $viewer = null === $parcel->person ? Viewer::system() : $this->people->viewer($parcel->person);
            $options = ParcelOptions::fromArray($parcel->wish);
            $contents = $this->builder->put($viewer, $options, $this->folder($parcel), function (int $done) use ($message): void {
                ProcessorLimit::again();
                if (0 === $done % 20) {
                    $this->entities->getConnection()->update('parcel', ['done' => $done], ['id' => $message->parcelId]);
                }
            });
        } catch (ExportFailed $e) {
            $reason = $e->explanation();
        } catch (\Throwable $e) {
            $this->logger->error('An export could not be written.', ['parcel' => $parcel->code, 'exception' => $e]);
        }
        $parcel = $this->entities->find(Parcel::class, $message->parcelId);
        if (null === $parcel) {
            return;
        }
        (new Filesystem())->remove(ExportBuilder::document($this->folder($parcel)));
        if (null === $contents) {
            $parcel->state = ParcelState::Failed;
            $parcel->message = $reason->kept();
            (new Filesystem())->remove($this->folder($parcel));
        } else {
            $parcel->state = ParcelState::Ready;
            $parcel->files = $contents->files;
            $parcel->bytes = array_sum(array_column($contents->files, 'bytes'));
            $parcel->captures = $contents->captures;
            $parcel->leftOut = $contents->leftOut;
        }
        $parcel->finishedAt = $this->clock->now();
        $this->entities->flush();
    }

    #[AsEventListener]
    public function givenUp(AbandonedMessage $event): void
    {
        $parcel = $event->message instanceof BuildParcel ? $this->entities->find(Parcel::class, $event->message->parcelId) : null;
        if (null !== $parcel && ParcelState::Waiting === $parcel->state) {
            $parcel->state = ParcelState::Failed;
            $parcel->message = AbandonedMessage::why()->kept();
            $parcel->finishedAt = $this->clock->now();
            $this->entities->flush();
            (new Filesystem())->remove([$this->folder($parcel), ExportBuilder::document($this->folder($parcel))]);
        }
    }

    public function remove(Parcel $parcel): void
    {
        (new Filesystem())->remove([$this->folder($parcel), ExportBuilder::document($this->folder($parcel))]);
        $this->entities->remove($parcel);
        $this->entities->flush();
    }

    /** A parcel is for whoever asked for it: it has what they may see. */
    public function byCode(Viewer $viewer, string $code): ?Parcel
    {
        return $this->entities->getRepository(Parcel::class)->findOneBy(['code' => $code] + $this->own($viewer));
    }

    /**
     * @return list<Parcel> newest first
     */
    public function latest(Viewer $viewer): array
    {
        return $this->entities->getRepository(Parcel::class)->findBy($this->own($viewer), ['id' => 'DESC'], self::MANY);
    }

    /** @return array<string, string|null> */
    private function own(Viewer $viewer): array
    {
        return $this->gate->sight($viewer)->isWhole() ? [] : ['person' => $viewer->name];
    }

    /** What was put together goes with what is in it: once a capture is limited to some, parcels that may have it are removed. */
    #[AsEventListener]
    public function onCapturesLimited(CapturesLimited $event): void
    {
        if (!$event->limited || $event->areNew) {
            return;
        }
        $codes = array_merge($event->codes, $this->addresses->codesOf(Viewer::system(), $event->addresses));
        foreach ($this->entities->getRepository(Parcel::class)->findBy([], ['id' => 'DESC'], self::MANY_KEPT) as $parcel) {
            $wish = ParcelOptions::fromArray($parcel->wish);
            if (!$wish->everything && [] !== array_intersect($codes, [...$wish->captures, ...$wish->addresses])) {
                $this->remove($parcel);
            }
        }
    }

    /** Path of a file of the parcel; null if it has none of that name. */
    public function file(Parcel $parcel, string $name): ?string
    {
        $path = $this->folder($parcel).'/'.$name;

        return \in_array($name, array_column($parcel->files, 'name'), true) && is_file($path) ? $path : null;
    }

    private function title(Viewer $viewer, ParcelOptions $wish): string
    {
        if ($wish->everything) {
            return 'everything';
        }
        if (null !== $wish->document) {
            return $wish->document;
        }
        $address = [] === $wish->addresses
            ? $this->captures->byCode($viewer, $wish->captures[0] ?? '')?->address
            : $this->addresses->byCode($viewer, $wish->addresses[0]);

        return $address->url ?? '';
    }

    public function folder(Parcel $parcel): string
    {
        return $this->folder->parcels().'/'.$parcel->code;
    }
}
