<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support\Edited;

/** Sentences of the demo's world in six languages, each made only once. */
final class Sentences
{
    public const LANGUAGES = ['en', 'de', 'el', 'ru', 'ja', 'ar'];
    public const NEGATED = [
        'en' => 'It is not true that ', 'de' => 'Es stimmt nicht, dass: ', 'el' => 'Δεν αληθεύει ότι ', 'ru' => 'Неверно, что ',
        'ja' => '次のことは事実ではない：', 'ar' => 'ليس صحيحا أن ',
    ];

    private const PATTERNS = [
        'en' => [
            'The ferry {name} left {place} at {hour}:{minute} with {n} passengers.',
            'Inspectors measured {n} centimetres of water behind the stern door of the {name}.',
            'The harbour board of {place} published report {n} on its website.',
            'According to the log, the seal was replaced {n} times in {year}.',
            'Safety manager {person} signed the certificate for {name} in {place}.',
            'Tickets for the {hour} o’clock crossing to {place} cost {n} crowns.',
            'No. {n} on the list is the {name}, built in {year} at {place}.',
            'Several passengers told {person} that the alarm rang for {n} minutes.',
            'The company announced that service to {place} would resume after {n} days.',
            'A diver found {n} loose bolts under the ramp near {place}.',
            'In {year} the {name} carried more than {n} cars across the sound.',
            'Dr. {person} examined the hull plates and wrote a note of {n} pages.',
            'Fishermen at {place} saw smoke above the {name} shortly after {hour}.',
            'Insurance covered {n} percent of the damage, said {person}.', 'The winter storm closed the pier at {place} for {n} nights.',
        ],
        'de' => [
            'Die Fähre {name} verließ {place} um {hour}:{minute} Uhr mit {n} Fahrgästen.',
            'Prüfer maßen {n} Zentimeter Wasser hinter der Hecktür der {name}.',
            'Die Hafenbehörde von {place} veröffentlichte den Bericht {n} im Netz.',
            'Laut Logbuch wurde die Dichtung im Jahr {year} insgesamt {n} Mal ersetzt.',
            'Sicherheitsleiterin {person} unterschrieb die Bescheinigung für {name}.',
            'Karten für die Überfahrt nach {place} kosten {n} Kronen.',
            'Am {n}. Mai kam z. B. die {name} verspätet in {place} an.',
            'Mehrere Reisende berichteten {person}, der Alarm habe {n} Minuten geläutet.',
            'Das Unternehmen kündigte an, den Verkehr nach {place} in {n} Tagen aufzunehmen.',
            'Ein Taucher fand {n} lose Bolzen unter der Rampe bei {place}.', 'Im Jahr {year} beförderte die {name} mehr als {n} Autos.',
            'Dr. {person} untersuchte die Rumpfplatten und schrieb {n} Seiten.',
        ],
        'el' => [
            'Το πλοίο {name} έφυγε από το λιμάνι {place} στις {hour}:{minute} με {n} επιβάτες.',
            'Οι επιθεωρητές μέτρησαν {n} εκατοστά νερού πίσω από την πόρτα του {name}.',
            'Η επιτροπή του λιμένα {place} δημοσίευσε την έκθεση {n}.',
            'Σύμφωνα με το ημερολόγιο, η τσιμούχα άλλαξε {n} φορές το {year}.',
            'Η υπεύθυνη ασφαλείας {person} υπέγραψε το πιστοποιητικό του {name}.', 'Τα εισιτήρια για {place} κοστίζουν {n} κορώνες.',
            'Πόσοι από τους {n} επιβάτες άκουσαν τον συναγερμό στο {place};',
            'Η εταιρεία ανακοίνωσε ότι τα δρομολόγια προς {place} ξεκινούν σε {n} ημέρες.',
            'Ένας δύτης βρήκε {n} χαλαρά μπουλόνια κοντά στο {place}.',
            'Το {year} το {name} μετέφερε πάνω από {n} αυτοκίνητα.',
        ],
        'ru' => [
            'Паром {name} вышел из порта {place} в {hour}:{minute} с {n} пассажирами.',
            'Инспекторы измерили {n} сантиметров воды за кормовой дверью парома {name}.',
            'Портовый совет {place} опубликовал отчёт номер {n}.',
            'Согласно журналу, уплотнение меняли {n} раз в {year} году.',
            'Начальник безопасности {person} подписала свидетельство парома {name}.', 'Билеты на рейс до {place} стоят {n} крон.',
            'Компания объявила, что движение до {place} возобновится через {n} дней.', 'Водолаз нашёл {n} болтов под рампой возле {place}.',
            'В {year} году {name} перевёз более {n} машин.', 'Рыбаки у {place} видели дым над паромом {name} после {hour} часов.',
        ],
        'ja' => [
            'フェリー{name}は{hour}時{minute}分に{place}港を出発し、乗客は{n}人でした。', '検査官は{name}の船尾扉の後ろで水深{n}センチを測りました。', '{place}の港湾委員会は報告書第{n}号を公表した。',
            '航海日誌によると、{year}年にシールは{n}回交換された。', '安全管理者の{person}氏が{name}の証明書に署名した。',
            '{place}行きの切符は{n}クローネです。', '会社は{place}への運航を{n}日後に再開すると発表した。', '潜水士は{place}の近くで緩んだボルトを{n}本見つけた。', '{year}年に{name}は{n}台以上の車を運んだ。',
            '漁師たちは{hour}時過ぎに{name}の上に煙を見た。',
        ],
        'ar' => [
            'غادرت العبّارة {name} ميناء {place} في الساعة {hour}:{minute} وعلى متنها {n} راكبا.',
            'قاس المفتشون {n} سنتيمترا من الماء خلف باب {name} الخلفي.', 'نشر مجلس ميناء {place} التقرير رقم {n} على موقعه.',
            'وفقا للسجل استُبدل الختم {n} مرات في عام {year}.',
            'وقّعت مديرة السلامة {person} شهادة السفينة {name}.', 'سعر التذكرة إلى {place} هو {n} كرونة.',
            'هل سمع {n} راكبا جرس الإنذار في {place}؟', 'أعلنت الشركة استئناف الرحلات إلى {place} بعد {n} أيام.',
            'وجد غواص {n} مسامير مفكوكة قرب {place}.', 'نقلت {name} أكثر من {n} سيارة في عام {year}.',
        ],
    ];
    private const NAMES = [
        'Petrel Dawn', 'Grey Heron', 'Saltmarsh Star', 'Curlew', 'Northern Tern', 'Sandpiper', 'Avocet Queen', 'Merrow Light',
    ];
    private const PLACES = ['Merrow', 'Saltmarch', 'Aliki', 'Kaikyo', 'Portleven', 'Osterhaven', 'Low Quay', 'Gannet Point', 'Weir Island'];
    private const PEOPLE = ['Edda Marlow', 'Tomas Okoye', 'Ilse Varga', 'Ruth Calder', 'Jonas Wehr', 'Mina Sato', 'Petros Lagos'];

    /** @var array<string, true> */
    private array $made = [];

    public function __construct(private readonly Chance $chance, public readonly string $language)
    {
    }

    public function one(): string
    {
        do {
            $sentence = strtr($this->chance->of(self::PATTERNS[$this->language]), [
                '{name}' => $this->chance->of(self::NAMES), '{place}' => $this->chance->of(self::PLACES),
                '{person}' => $this->chance->of(self::PEOPLE), '{n}' => (string) $this->chance->between(2, 30),
                '{year}' => (string) $this->chance->between(1998, 2026), '{hour}' => (string) $this->chance->between(6, 21),
                '{minute}' => \sprintf('%02d', $this->chance->between(10, 59)),
            ]);
        } while (isset($this->made[$sentence]));
        $this->made[$sentence] = true;

        return $sentence;
    }

    /** The same sentence with one of its numbers, or a word, otherwise. */
    public function edited(string $sentence): string
    {
        do {
            $edited = match (true) {
                1 === preg_match('/\d+/', $sentence)
                    && $this->chance->between(0, 2) > 0 => (string) preg_replace_callback(
                        '/\d+/', fn (array $m): string => (string) ((int) $m[0] + $this->chance->between(31, 60)), $sentence, 1,
                    ),
                default => self::NEGATED[$this->language].$sentence,
            };
        } while (isset($this->made[$edited]));
        $this->made[$edited] = true;

        return $edited;
    }

    public function name(): string
    {
        return $this->chance->of(self::NAMES).' '.$this->chance->between(100, 99_999);
    }
}
