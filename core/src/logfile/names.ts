import type { ChannelId } from './channels.ts'

/** Lower case, without accents and marks: names are compared so. */
export const fold = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/ß/g, 'ss')
    .replace(/ø/gi, 'o')
    .replace(/ł/gi, 'l')
    .replace(/æ/gi, 'ae')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/λ/g, 'lambda')
    .toLowerCase()
    .replace(/[_\-./'’:]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()

/** words for what is wanted and what is learned or corrected, in the languages of the trade */
const TARGET =
  /\b(target|tgt|soll|sollwert|desired|wanted|cible|consigne|objetivo|obiettivo|doel|gewenst|alvo|desejad\w*|bor|borvarde|mal|zadana|set ?point|commanded|goal|ref)\b/
const CORRECTION =
  /\b(corr(ection|ect)?|trim|stft|regelung|regler|closed ?loop|cl|feedback|korrektur|korr|correccion|correzione|correctie|correcao|correction|boucle|lazo|anello|malha|regulation|korrigering|korekta|short ?term)\b/
const LEARNED =
  /\b(learn(ed|t|ing)?|ltft|adapt(ion|ive|ation|ed|iert)?|gelernt|lern\w*|long ?term|appris|apprentissage|aprendid\w*|aprendizado|appres\w*|geleerd|inlard\w*|wyuczon\w*)\b/

interface Rule {
  is: RegExp[]
  not?: RegExp
}
/** What each channel is called: ordered from the surest name down. A later pattern scores lower. */
const names: Record<ChannelId, Rule> = {
  timeS: {
    is: [
      /^(time|zeit|temps|tiempo|tempo|tijd|tid|czas|t)$/,
      /^(time|zeit|temps|tiempo|tempo|tijd|tid|czas)\b/,
      /\b(time ?stamp|elapsed|zeit\w*|clock|uhrzeit|heure|hora|ora|seconds|timestamp|klocka|godzina)\b/,
    ],
    not: /\b(dwell|burn|pulse|injection|injecao|inyeccion|iniezione|since|d injection|di iniezione|wtrysku|insprutning\w*)\b/,
  },
  rpm: {
    is: [
      /^(rpm|n|engine (speed|rpm)|eng (speed|rpm)|(motor ?)?drehzahl|regime( moteur)?|toerental|giri( motore)?|revoluciones|regimen( motor)?|rotacao|rotacoes|rpm motor|varvtal|motorvarvtal|obroty)$/,
      /\b(rpm|engine speed|drehzahl|motordrehzahl|regime|giri|toerental|crank speed|revs|revoluciones|rotacao|rotacoes|varvtal|obroty)\b/,
    ],
    not: /target|soll|idle|leerlauf|limit|error|\bd ?rpm\b|consigne|rate|ralenti|minimo|marcha lenta|tomgang/,
  },
  mapKpa: {
    is: [
      /^(map|manifold (absolute )?(pressure|press|abs)|manifold|saugrohrdruck|ladedruck|pression (d )?admission|presion (de )?admision|pressione (di )?aspirazione|inlaatdruk|pressao (de )?admissao|insugstryck|cisnienie (w )?(kolektorze|dolotu))$/,
      /\b(map|manifold|saugrohr\w*|intake press(ure)?|inlet press(ure)?|pression (collecteur|admission)|admision|admissao|aspirazione|inlaatdruk|insug\w*|unterdruck|vacuum|vac|vuoto|vacio|vacuo|onderdruk|undertryck|podcisnienie|depression|collettore|kolektor\w*|boost)\b/,
    ],
    not: /target|soll|temp|\biat\b|rate|fuel|kraftstoff|\bd ?map\b|table|switch|\b(aire|aria|ar|air|luft\w*)\b/,
  },
  throttlePct: {
    is: [
      /^(tps|tp|throttle( position| pos| angle)?|drosselklappe(nwinkel|nstellung)?|papillon( gaz)?|mariposa|farfalla|gasklep(stand)?|borboleta|trottel|gasspjall|przepustnica)$/,
      /\b(tps|throttle|drosselklappe\w*|papillon|mariposa|farfalla|gasklep\w*|borboleta|trottel\w*|gasspjall\w*|przepustnic\w*)\b/,
    ],
    not: /target|soll|rate|\bd ?tps\b|dot|pedal|accel/,
  },
  lambda: {
    is: [
      /^(lambda|afr|air fuel ratio|a f( ratio)?|luftverhaltnis|richesse|lambda (ist|measured|meas|actual|gemessen|mesure|medido|misurato|gemeten|matt|zmierzona|1)|afr (measured|actual|meas|1)|measured (lambda|afr)|wideband|wb( (lambda|afr))?)$/,
      /\b(lambda|afr|air fuel|a f|wideband|luftverhaltnis|breitband|richesse|phi|mezcla|miscela|mistura|mengsel|blandning)\b/,
    ],
    not: /target|tgt|soll|desired|wanted|cible|consigne|objetivo|obiettivo|doel|alvo|corr|trim|stft|ltft|regel|learn|adapt|error|fehler|setpoint|set point|commanded|gewenst|borvarde|\bbor\b|zadana|korr|desejad/,
  },
  lambda2: {
    is: [
      /^(lambda|afr|wideband|wb) ?(2|b|right|bank ?2|rechts|droite|derecha|destra|direita|hoger|hoyre|prawa)$/,
      /\b(lambda|afr) .*(bank|row) ?2\b/,
    ],
    not: TARGET,
  },
  lambdaTarget: {
    is: [
      /^(target (lambda|afr)|(lambda|afr) (target|tgt|soll)|soll ?lambda|lambda ?soll(wert)?|desired (lambda|afr)|lambda (cible|consigne|objetivo|obiettivo|doel|alvo|borvarde|bor|zadana))$/,
    ],
  },
  coolantC: {
    is: [
      /^(coolant( temp(erature)?)?|clt|ect|cts|kuhlmittel(temperatur)?|kuhlwasser(temperatur)?|water( temp(erature)?)?|engine temp(erature)?|t (water|coolant|engine)|temperature (d )?eau|eau|refrigerante|temperatura (de )?(agua|acqua)|liquido( refrigerante)?|koelvloeistof(temperatuur)?|acqua|agua|kylvatten(temperatur)?|kylvatska|plyn chlodzacy|temp (silnika|motor))$/,
      /\b(coolant|clt|kuhlmittel\w*|kuhlwasser\w*|ect|water|motortemp\w*|eau|refrigerante|koelvloeistof\w*|koelwater\w*|kylvatten\w*|kylv\w*|agua|acqua|arrefecimento|chlodz\w*|engine temp\w*)\b/,
    ],
    not: /corr|enrich|factor/,
  },
  intakeAirC: {
    is: [
      /^(intake air( temp(erature)?)?|iat|mat|act|aat|t (air|intake)|air( temp(erature)?)?|ansaugluft(temperatur)?|inlet (air )?temp(erature)?|intake temp(erature)?|temperature (d )?air|aire( de admision)?|aria( aspirata)?|inlaatlucht(temperatuur)?|temperatura (do )?ar|ar( admissao)?|insugsluft(temperatur)?|charge (air )?temp(erature)?|powietrze)$/,
      /\b(intake air|inlet air|iat|air temp\w*|ansaugluft\w*|lufttemp\w*|aire|aria|inlaatlucht\w*|insugsluft\w*|temp\w* (do )?ar|powietrz\w*)\b/,
    ],
    not: /corr|fuel|ratio|mass|flow/,
  },
  batteryV: {
    is: [
      /^(battery( voltage| volts?)?|bordnetz(spannung)?|batterie(spannung)?|batt?|bat v|vbatt?|ubatt?|tension( batterie)?|bateria|batteria|accu(spanning)?|supply( voltage)?|voltage|volts|batteri(spanning)?|akumulator|napiecie)$/,
      /\b(battery|bordnetz\w*|batterie\w*|bateria|batteria|batteri\w*|supply volt\w*|accu\w*|akumulator\w*|vbatt?)\b/,
    ],
    not: /corr/,
  },
  correctionPct: {
    is: [
      /^(closed ?loop( correction)?|cl (correction|corr)|(lambda ?)?regelung|(fuel |lambda |afr |o2 )?(correction|corr|trim)|stft|lambda ?regler|correction (lambda|richesse)|korrektur|short ?term( fuel)? trim|correccion|correzione|correctie|correcao|korrigering|korekta|feedback)$/,
      CORRECTION,
    ],
    not: /learn|ltft|adapt|gelernt|long ?term|air temp|iat|coolant|clt|warm|baro|batt|spark|ignition|zund|idle|accel/,
  },
  learnedPct: {
    is: [
      /^(learn(ed|t)( correction| trim| value)?|ltft|adaption|gelernt(e korrektur)?|long ?term( fuel)? trim|appris|aprendido|appreso|geleerd|inlard|wyuczona)$/,
      LEARNED,
    ],
  },
  enrichmentPct: {
    is: [
      /^(other |total )?(enrichment|anreicherung|enrichissement)$/,
      /\b(enrich\w*|anreicherung|warm ?up|warmlauf|enrichissement|arricchimento|enriquecimi?ento|verrijking|anrikning|wzbogac\w*)\b/,
    ],
  },
  pulseMs: {
    is: [
      /^(pulse( ?width)?|pw|ipw|inj( pw)?|ti|einspritzzeit|injection (time|duration|pulse)|temps (d )?injection|tiempo (de )?inyeccion|tempo (di )?iniezione|tempo (de )?injecao|inspuittijd|insprutningstid|czas wtrysku|injector (pulse|on|time)( width| time)?)$/,
      /\b(pulse ?width|pulse|einspritz\w*|injection time|injector pulse|injection|inspuittijd|iniezione|inyeccion|injecao|insprutning\w*|wtrysk\w*|inj pw)\b/,
    ],
    not: /angle|duty|phase|dead|timing/,
  },
  advanceDegBtdc: {
    is: [
      /^(spark( advance| timing| angle)?|ign( adv(ance)?| timing)?|adv|zundwinkel|zundung|advance|ignition( advance| timing| angle)?|avance( (a l )?allumage)?|anticipo( accensione)?|avance (de )?encendido|avanco( (de )?ignicao)?|ontsteking\w*|tandning\w*|zaplon|wyprzedzenie( zaplonu)?|timing)$/,
      /\b(spark|zundwinkel|advance|ignition|avance|anticipo|encendido|avanco|ontsteking\w*|tandning\w*|zaplon\w*)\b/,
    ],
    not: /dwell|target|knock|energy|corr|retard/,
  },
  idleValvePct: {
    is: [
      /^(idle (air )?(valve|control|actuator)( position| duty)?|iac|leerlauf(steller|regler|ventil)|vanne (de )?ralenti|valvula (de )?ralenti|valvola (del )?minimo|valvula (de )?marcha lenta|stationair\w*|tomgangsventil|zawor biegu jalowego)$/,
      /\b(idle valve|iac|leerlaufsteller|idle duty|ralenti|minimo|idle air|tomgang\w*|marcha lenta|biegu jalowego)\b/,
    ],
    not: /target|speed|rpm|drehzahl|varvtal/,
  },
  fuelCut: {
    is: [
      /^((decel )?fuel cut( off)?|schubabschaltung|coupure( injection)?|corte( (de )?combustible)?|taglio|corte (de )?(injecao|combustivel)|cut ?off|overrun|cut|brandstofafsluiting|dfco|bransleavstangning|odciecie)$/,
      /\b(fuel cut|schub\w*|overrun|coupure|cut off|corte|taglio|bransleavst\w*|odciecie)\b/,
    ],
  },
  speedKmh: {
    is: [
      /^((vehicle|road|car|ground) speed|vss|geschwindigkeit|fahrgeschwindigkeit|vitesse|velocidad|velocita|velocidade|snelheid|hastighet|predkosc|speed)$/,
      /\b(vehicle speed|road speed|geschwindigkeit|vitesse|velocidad|velocidade|velocita|snelheid|hastighet|predkosc|vss)\b/,
    ],
    not: /engine|motor/,
  },
  marker: {
    is: [
      /^(marker?|mark|event|button|flag|knopf|marke|markierung|repere|marca(dor)?|marcador|evento|knop|markering|znacznik)$/,
      /\b(marker|event mark|marke|repere|marcador)\b/,
    ],
  },
  gear: { is: [/^(gear|gang|rapport|marcha|marcia|versnelling|vaxel|bieg|mudanca)$/], not: /ratio/ },
  fuelPressureKpa: {
    is: [
      /^(fuel (rail )?press(ure)?|kraftstoffdruck|benzindruck|pression (d )?essence|pression carburant|presion (de )?combustible|pressione benzina|pressao (de )?combustivel|brandstofdruk|bransletryck|cisnienie paliwa|rail pressure)$/,
      /\b(fuel press\w*|kraftstoffdruck|benzindruck|rail press\w*|brandstofdruk|bransletryck|paliwa|combustivel|essence)\b/,
    ],
    not: /cut|coupure|corte|temp/,
  },
  barometerKpa: {
    is: [
      /^(baro(meter|metric( pressure)?)?|luftdruck|umgebungsdruck|ambient pressure|pression atmospherique|atmospheric pressure|presion atmosferica|pressione atmosferica|pressao atmosferica|luchtdruk|lufttryck|cisnienie atmosferyczne)$/,
      /\b(baro\w*|luftdruck|umgebungsdruck|ambient press\w*|atmos\w*|luchtdruk|lufttryck)\b/,
    ],
    not: /corr/,
  },
}
export const namedChannels = Object.keys(names) as ChannelId[]

/** How surely a folded name is that of a channel: 100 exactly, 0 not at all. */
export function nameScore(channel: ChannelId, name: string): number {
  const rule = names[channel]
  if (rule.not?.test(name) && !rule.is[0].test(name)) return 0
  if (rule.is[0].test(name)) return 100
  for (let i = 1; i < rule.is.length; i++) if (rule.is[i].test(name)) return 60 - 10 * i
  if (channel === 'lambdaTarget' && TARGET.test(name) && /\b(lambda|afr|air fuel|a f|richesse|luftverhaltnis)\b/.test(name)) return 80
  return 0
}
/** Words of a name that say how a pressure is counted. */
export const saysVacuum = (name: string): boolean =>
  /\b(vacuum|vac|unterdruck|depression|vuoto|vacio|vacuo|onderdruk|undertryck|podcisnienie)\b/.test(name)
export const saysGauge = (name: string): boolean => /\b(gauge|gage|relativ\w*|boost|uberdruck|rel|g)\b/.test(name)
export const saysAbsolute = (name: string): boolean => /\b(abs(olute|olut|oluta|oluto)?|absolu)\b/.test(name)
/** French richesse is fuel over air: the inverse of lambda. */
export const saysRichness = (name: string): boolean => /\b(phi|richesse)\b/.test(name)
